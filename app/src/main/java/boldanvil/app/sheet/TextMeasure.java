package boldanvil.app.sheet;

import java.util.HashMap;
import java.util.Map;
import javafx.scene.text.Font;
import javafx.scene.text.Text;

/** Widths of texts, and texts cut to a width. */
public final class TextMeasure {
    private record Key(String text, Font font) {}

    private static final int CACHE = 5_000;

    private final Map<Key, Double> widths = new HashMap<>();

    public double width(String text, Font font) {
        if (widths.size() > CACHE) {
            widths.clear();
        }
        return widths.computeIfAbsent(new Key(text, font), k -> {
            var t = new Text(k.text());
            t.setFont(k.font());
            return t.getLayoutBounds().getWidth();
        });
    }

    /** The text, or its beginning with an ellipsis, no wider than asked. */
    public String fit(String text, Font font, double width) {
        if (width(text, font) <= width) {
            return text;
        }
        int n = text.length();
        while (n > 1 && width(text.substring(0, n) + "…", font) > width) {
            n--;
        }
        return text.substring(0, n).stripTrailing() + "…";
    }
}
