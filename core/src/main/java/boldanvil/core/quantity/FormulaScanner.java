package boldanvil.core.quantity;

import java.util.Set;

/** Reads the signs, names, numbers and units of a formula, one after the other. */
final class FormulaScanner {
    final String text;
    /** Names that end a unit, since they are something else. */
    private final Set<String> others;
    /** Words that are not units where conditions are understood; names may contain dots then. */
    private final Set<String> words;
    int at;

    FormulaScanner(String text, Set<String> others, Set<String> words) {
        this.text = text;
        this.others = others;
        this.words = words;
    }

    static boolean isDigit(char c) {
        return c >= '0' && c <= '9';
    }

    double number() {
        int start = at;
        while (at < text.length() && (isDigit(text.charAt(at)) || text.charAt(at) == '.')) {
            at++;
        }
        int mark = at;
        if (at < text.length() && (text.charAt(at) == 'e' || text.charAt(at) == 'E')) {
            at++;
            if (at < text.length() && (text.charAt(at) == '-' || text.charAt(at) == '+')) {
                at++;
            }
            if (at < text.length() && isDigit(text.charAt(at))) {
                while (at < text.length() && isDigit(text.charAt(at))) {
                    at++;
                }
            } else {
                at = mark;
            }
        }
        try {
            return Double.parseDouble(text.substring(start, at));
        } catch (NumberFormatException e) {
            throw new FormulaException("'" + text.substring(start, at) + "' is not a number.", start);
        }
    }

    /** The unit that follows a number; null when none does. */
    Unit unit() {
        skip();
        if (!isUnitStart(at) || nextIsVariable(at) || words.contains(symbolAt(at))) {
            return null;
        }
        int length = Units.length(text.substring(at, variableFrom(at)));
        if (length == 0) {
            throw error("'" + symbolAt(at) + "' is neither a unit nor a variable.");
        }
        Unit u = Units.find(text.substring(at, at + length)).orElseThrow();
        at += length;
        return u;
    }

    /** Where the first name from here on begins that is a variable, which ends a unit. */
    private int variableFrom(int from) {
        int i = from;
        while (i < text.length()) {
            if (isUnitStart(i)) {
                String symbol = symbolAt(i);
                if (others.contains(symbol)) {
                    return i;
                }
                i += Math.max(1, symbol.length());
            } else {
                i++;
            }
        }
        return i;
    }

    private boolean isUnitStart(int from) {
        return from < text.length() && (Character.isLetter(text.charAt(from)) || text.charAt(from) == '%'
                || text.charAt(from) == '°');
    }

    private boolean nextIsVariable(int from) {
        return others.contains(symbolAt(from));
    }

    String symbolAt(int from) {
        int end = from;
        while (end < text.length() && (Character.isLetterOrDigit(text.charAt(end)) || "%°_".indexOf(text.charAt(end)) >= 0)
                && "²³".indexOf(text.charAt(end)) < 0) {
            end++;
        }
        return text.substring(from, end);
    }

    String name() {
        int start = at;
        while (at < text.length() && (Character.isLetterOrDigit(text.charAt(at)) || text.charAt(at) == '_'
                || !words.isEmpty() && text.charAt(at) == '.')) {
            at++;
        }
        return text.substring(start, at);
    }

    boolean eat(char c) {
        skip();
        if (at < text.length() && text.charAt(at) == c) {
            at++;
            return true;
        }
        return false;
    }

    /** Whether relations and the words that join them are understood. */
    boolean isConditional() {
        return !words.isEmpty();
    }

    /** Whether one of the {@link #words} stands here; it is passed over. */
    boolean word(String wanted) {
        skip();
        if (!words.contains(wanted) || !symbolAt(at).equals(wanted)) {
            return false;
        }
        at += wanted.length();
        return true;
    }

    boolean eat(String wanted) {
        skip();
        boolean there = text.startsWith(wanted, at);
        at += there ? wanted.length() : 0;
        return there;
    }

    void expect(char c) {
        if (!eat(c)) {
            throw error("'" + c + "' is missing.");
        }
    }

    void end() {
        skip();
        if (at < text.length()) {
            throw error("'" + text.substring(at) + "' was not expected here.");
        }
    }

    void skip() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            at++;
        }
    }

    FormulaException error(String message) {
        return new FormulaException(message, at);
    }
}
