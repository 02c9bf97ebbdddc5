package boldanvil.core.iec;

import java.util.ArrayDeque;
import java.util.Deque;

/** Writes XML, indented, with everything escaped. */
final class XmlText {
    private final StringBuilder text = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    private final Deque<String> open = new ArrayDeque<>();

    /** @param attributes names and values in turn */
    XmlText open(String name, String... attributes) {
        begin(name, attributes).append(">\n");
        open.push(name);
        return this;
    }

    XmlText empty(String name, String... attributes) {
        begin(name, attributes).append("/>\n");
        return this;
    }

    /** An element with text, kept as it is. */
    XmlText text(String name, String content, String... attributes) {
        begin(name, attributes).append('>').append(escaped(content)).append("</").append(name).append(">\n");
        return this;
    }

    private StringBuilder begin(String name, String... attributes) {
        text.append("  ".repeat(open.size())).append('<').append(name);
        for (int i = 0; i + 1 < attributes.length; i += 2) {
            text.append(' ').append(attributes[i]).append("=\"").append(escaped(attributes[i + 1])).append('"');
        }
        return text;
    }

    XmlText close() {
        String name = open.pop();
        text.append("  ".repeat(open.size())).append("</").append(name).append(">\n");
        return this;
    }

    private static String escaped(String s) {
        return s.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace("\"", "&quot;");
    }

    @Override
    public String toString() {
        return text.toString();
    }
}
