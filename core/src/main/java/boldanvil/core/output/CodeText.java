package boldanvil.core.output;

import boldanvil.core.escape.Escape;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;

/** Collects lines with their indentation and their diagram place. */
public final class CodeText {
    private final StringBuilder text = new StringBuilder();
    private final Map<Integer, String> places = new TreeMap<>();
    private int line = 1;
    private int depth;
    private String place;

    /** An expression without the brackets around all of it; unchanged where there are none. */
    public static String bare(String expression) {
        return expression.startsWith("(") && closes(expression) ? expression.substring(1, expression.length() - 1) : expression;
    }

    /** Whether the first bracket closes with the last character. */
    private static boolean closes(String s) {
        int depth = 0;
        for (int i = 0; i < s.length(); i++) {
            depth += s.charAt(i) == '(' ? 1 : s.charAt(i) == ')' ? -1 : 0;
            if (depth == 0) {
                return i == s.length() - 1;
            }
        }
        return false;
    }

    public CodeText line(String given) {
        // Whatever is in the line, it is one line.
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

    public CodeText lines(String block) {
        block.lines().forEach(this::line);
        return this;
    }

    public CodeText open(String s) {
        line(s);
        depth++;
        return this;
    }

    public CodeText close(String s) {
        depth--;
        return line(s);
    }

    /** Ends one indented body and begins the next. */
    public CodeText turn(String s) {
        close(s);
        depth++;
        return this;
    }

    /** The diagram place of the lines to come; null for none. */
    public CodeText at(String diagramPlace) {
        place = diagramPlace;
        return this;
    }

    public GeneratedFile file(String name) {
        return new GeneratedFile(name, text.toString(), places);
    }

    /**
     * Reads a resource that is divided by comments of the form {@code /* --- name *}{@code /}.
     *
     * @return the text of each section by its name
     */
    public static Map<String, String> sections(Class<?> beside, String resource) {
        try (InputStream in = beside.getResourceAsStream(resource)) {
            Map<String, String> sections = new LinkedHashMap<>();
            for (String section : new String(in.readAllBytes(), StandardCharsets.UTF_8).split("/\\* --- ")) {
                int end = section.indexOf(" */\n");
                if (end > 0 && section.indexOf(' ') == end) {
                    sections.put(section.substring(0, end), section.substring(end + " */\n".length()).strip());
                }
            }
            return sections;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
