package boldanvil.app.page;

import javafx.scene.input.KeyCombination;

/**
 * Something the window can do.
 *
 * @param group the menu it is in; empty for the one of its page
 * @param key its key combination, or null
 */
public record Command(String group, String name, KeyCombination key, Runnable action) {
    public static Command of(String name, String key, Runnable action) {
        return new Command("", name, key.isEmpty() ? null : KeyCombination.valueOf(key), action);
    }

    /** The same in another menu. */
    public Command in(String other) {
        return new Command(other, name, key, action);
    }

    public String keyText() {
        return key == null ? "" : key.getDisplayText();
    }
}
