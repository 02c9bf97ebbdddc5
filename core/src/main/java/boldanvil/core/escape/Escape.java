package boldanvil.core.escape;

/** Texts of a project within other languages. */
public final class Escape {
    private static final char UNKNOWN = '\uFFFD';

    private Escape() {}

    /**
     * A text on one line: line breaks and other controls become spaces, marks that turn the direction of writing are left out, and halves
     * of surrogate pairs become U+FFFD, so that the text can be encoded and reads as it is.
     */
    public static String line(String s) {
        var out = new StringBuilder(s.length());
        for (int i = 0; i < s.length(); i++) {
            char c = s.charAt(i);
            if (Character.isHighSurrogate(c) && i + 1 < s.length() && Character.isLowSurrogate(s.charAt(i + 1))) {
                out.append(c).append(s.charAt(++i));
            } else if (Character.isSurrogate(c)) {
                out.append(UNKNOWN);
            } else if (Character.isISOControl(c) || c == '\u2028' || c == '\u2029') {
                out.append(' ');
            } else if (!isDirection(c)) {
                out.append(c);
            }
        }
        return out.toString();
    }

    /** Unicode Standard Annex 9, section 2: embeddings, overrides, isolates and marks. */
    private static boolean isDirection(char c) {
        return c >= '\u202A' && c <= '\u202E' || c >= '\u2066' && c <= '\u2069' || c == '\u200E' || c == '\u200F' || c == '\u061C';
    }

    /** Within a comment of C, or of a linker script: the text neither ends the comment nor begins another, nor holds a trigraph. */
    public static String cComment(String s) {
        String t = line(s);
        var out = new StringBuilder(t.length());
        for (int i = 0; i < t.length(); i++) {
            char c = t.charAt(i);
            char before = out.isEmpty() ? ' ' : out.charAt(out.length() - 1);
            boolean joins = before == '*' && c == '/' || before == '/' && (c == '*' || c == '/') || before == '?' && c == '?';
            out.append(joins ? " " : "").append(c);
        }
        // At either end the text may stand beside a mark of the comment.
        return (out.indexOf("/") == 0 ? " " : "") + out + (!out.isEmpty() && "*/\\".indexOf(out.charAt(out.length() - 1)) >= 0 ? " " : "");
    }

    /** Within a comment of a makefile or of CMake: the text does not continue in the next line. */
    public static String hashComment(String s) {
        String t = line(s);
        return (t.startsWith("[") ? " " : "") + t + (t.endsWith("\\") ? " ." : "");
    }

    /** Within a line or a table cell of Markdown (CommonMark 0.31): no markup, no HTML, no further cell. */
    public static String markdown(String s) {
        String t = line(s);
        var out = new StringBuilder(t.length());
        for (int i = 0; i < t.length(); i++) {
            char c = t.charAt(i);
            if (c == '<') {
                out.append("&lt;");
            } else if (c == '&') {
                out.append("&amp;");
            } else {
                out.append("\\`*_{}[]|#!~>".indexOf(c) >= 0 ? "\\" : "").append(c);
            }
        }
        return out.toString();
    }

    /** Within a text or an attribute of XML and SVG (XML 1.0, fifth edition). */
    public static String xml(String s) {
        return line(s).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace("\"", "&quot;").replace("'", "&apos;")
                .replace("\uFFFE", "\uFFFD").replace("\uFFFF", "\uFFFD");
    }

    /** A text in a cell of CSV that no spreadsheet takes for a formula; numbers stay what they are. */
    public static String csvText(String s) {
        if (s.isEmpty()) {
            return s;
        }
        char first = s.charAt(0);
        boolean formula = first == '=' || first == '@' || first == '\t' || first == '\r' || (first == '+' || first == '-') && !isNumber(s);
        return formula ? "'" + s : s;
    }

    private static boolean isNumber(String s) {
        return s.matches("[+-]?[0-9]{1,40}(\\.[0-9]{0,40})?([eE][+-]?[0-9]{1,4})?");
    }
}
