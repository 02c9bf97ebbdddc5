package boldanvil.app.widget;

import javafx.scene.Node;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;

/** What goes to the clipboard. */
public final class Copies {
    private Copies() {}

    /** Copies a text. */
    public static void text(String text) {
        var content = new ClipboardContent();
        content.putString(text);
        Clipboard.getSystemClipboard().setContent(content);
    }

    /** Copies the picture of a node. */
    public static void picture(Node node) {
        var content = new ClipboardContent();
        content.putImage(node.snapshot(null, null));
        Clipboard.getSystemClipboard().setContent(content);
    }
}
