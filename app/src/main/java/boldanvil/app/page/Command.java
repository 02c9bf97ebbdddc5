package boldanvil.app.page;

import javafx.scene.input.KeyCombination;

/**
 * Something the window can do.
 *
 * @param key its key combination, or null
 */
public record Command(String name, KeyCombination key, Runnable action) {
    public static Command of(String name, String key, Runnable action) {
        return new Command(name, key.isEmpty() ? null : KeyCombination.valueOf(key), action);
    }

    public String keyText() {
        return key == null ? "" : key.getDisplayText();
    }
}
