package boldanvil.app.shell;

import javafx.scene.input.KeyCombination;

/**
 * Something the window can do.
 *
 * @param key its key combination, or null
 */
record Command(String name, KeyCombination key, Runnable action) {
    static Command of(String name, String key, Runnable action) {
        return new Command(name, key.isEmpty() ? null : KeyCombination.valueOf(key), action);
    }

    String keyText() {
        return key == null ? "" : key.getDisplayText();
    }
}
