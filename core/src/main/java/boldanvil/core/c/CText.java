package boldanvil.core.c;

import boldanvil.core.escape.Escape;
import java.util.Map;
import java.util.TreeMap;

/** Collects lines with their indentation and their diagram place. */
public final class CText {
    private final StringBuilder text = new StringBuilder();
    private final Map<Integer, String> places = new TreeMap<>();
    private int line = 1;
    private int depth;
    private String place;

    public CText line(String given) {
        // Whatever stands in the line, it is one line.
        String s = given.startsWith("\t") ? "\t" + Escape.line(given.substring(1)) : Escape.line(given);
        if (!s.isEmpty()) {
            text.append("    ".repeat(depth)).append(s);
        }
        text.append('\n');
        if (place != null) {
            places.put(line, place);
        }
        line++;
        return this;
    }

    public CText lines(String block) {
        block.lines().forEach(this::line);
        return this;
    }

    public CText open(String s) {
        line(s);
        depth++;
        return this;
    }

    public CText close(String s) {
        depth--;
        return line(s);
    }

    /** Ends one indented body and begins the next. */
    public CText turn(String s) {
        close(s);
        depth++;
        return this;
    }

    /** The diagram place of the lines to come; null for none. */
    public CText at(String diagramPlace) {
        place = diagramPlace;
        return this;
    }

    public CFile file(String name) {
        return new CFile(name, text.toString(), places);
    }

    /** A text that cannot end a comment early. */
    public static String comment(String s) {
        return Escape.cComment(s);
    }
}
