package boldanvil.core.text;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.TreeMap;
import org.antlr.v4.runtime.CharStreams;
import org.antlr.v4.runtime.Token;

/** What an editor needs to know of a text that is being written: its pieces, what may follow at a place, and where names are declared. */
public final class TextEditing {
    /** What a piece of a text is. */
    public enum Kind { KEYWORD, TYPE, NUMBER, FUNCTION, COMMENT, NAME, OTHER }

    /**
     * A piece of a text.
     *
     * @param start index of its first character
     * @param end index behind its last one
     */
    public record Piece(int start, int end, Kind kind) {}

    /**
     * Something that may be written at a place.
     *
     * @param remark what it is
     */
    public record Proposal(String text, String remark) {}

    /** A declared name. */
    private record Declared(String name, String type, int at) {}

    private static final List<String> KEYWORDS = keywords();

    private final String text;
    private final List<Token> tokens = new ArrayList<>();
    private final Map<String, Declared> declared = new LinkedHashMap<>();

    private TextEditing(String text) {
        this.text = text;
        var lexer = new StructuredTextLexer(CharStreams.fromString(text));
        lexer.removeErrorListeners();
        for (Token t = lexer.nextToken(); t.getType() != Token.EOF; t = lexer.nextToken()) {
            tokens.add(t);
        }
        SoftKeywords.soften(tokens);
        declare();
    }

    /** A text as it is while it is written; it need not be correct. */
    public static TextEditing of(String text) {
        return new TextEditing(TextLimits.check(text).isPresent() ? "" : text);
    }

    private static List<String> keywords() {
        List<String> all = new ArrayList<>();
        var vocabulary = StructuredTextLexer.VOCABULARY;
        // The lexer numbers keywords in one row, as the grammar has them.
        for (int t = StructuredTextLexer.FUNCTION; t <= StructuredTextLexer.END_ACTION; t++) {
            all.add(vocabulary.getSymbolicName(t));
        }
        return List.copyOf(all);
    }

    static boolean isKeyword(String upper) {
        return KEYWORDS.contains(upper);
    }

    private static boolean isKeyword(Token t) {
        return t.getType() >= StructuredTextLexer.FUNCTION && t.getType() <= StructuredTextLexer.END_ACTION;
    }

    private static boolean opens(Token t) {
        return switch (t.getType()) {
            case StructuredTextLexer.VAR, StructuredTextLexer.VAR_INPUT, StructuredTextLexer.VAR_OUTPUT,
                    StructuredTextLexer.VAR_IN_OUT, StructuredTextLexer.VAR_TEMP, StructuredTextLexer.VAR_GLOBAL,
                    StructuredTextLexer.VAR_EXTERNAL, StructuredTextLexer.RETAIN,
                    StructuredTextLexer.VAR_CONTACT, StructuredTextLexer.VAR_BRANCH, StructuredTextLexer.VAR_PARAMETER,
                    StructuredTextLexer.VAR_QUANTITY, StructuredTextLexer.CONSTANT -> true;
            default -> false;
        };
    }

    private static boolean isName(Token t) {
        return t.getType() == StructuredTextLexer.ID;
    }

    private static boolean isIn(Token t, String text) {
        return t.getText().equals(text);
    }

    /** Variables, steps, actions, functions and function blocks that the text declares. */
    private void declare() {
        List<Token> plain = tokens.stream().filter(t -> t.getType() != StructuredTextLexer.COMMENT).toList();
        boolean within = false;
        for (int i = 0; i < plain.size(); i++) {
            Token t = plain.get(i);
            within |= opens(t);
            switch (t.getType()) {
                case StructuredTextLexer.END_VAR -> within = false;
                case StructuredTextLexer.STEP, StructuredTextLexer.INITIAL_STEP -> named(plain, i + 1, "step");
                case StructuredTextLexer.ACTION -> named(plain, i + 1, "action");
                case StructuredTextLexer.FUNCTION -> named(plain, i + 1, "function");
                case StructuredTextLexer.FUNCTION_BLOCK -> named(plain, i + 1, "function block");
                default -> {
                    if (within && isName(t) && i > 0 && (isIn(plain.get(i - 1), ";") || isIn(plain.get(i - 1), ",")
                            || opens(plain.get(i - 1)))) {
                        named(plain, i, typeAfter(plain, i));
                    }
                }
            }
        }
    }

    /** The type behind the next colon. */
    private static String typeAfter(List<Token> plain, int from) {
        for (int i = from; i < plain.size() && !isIn(plain.get(i), ";"); i++) {
            if (isIn(plain.get(i), ":") && i + 1 < plain.size()) {
                return plain.get(i + 1).getText();
            }
        }
        return "";
    }

    private void named(List<Token> plain, int i, String type) {
        if (i < plain.size() && isName(plain.get(i))) {
            Token t = plain.get(i);
            declared.putIfAbsent(key(t.getText()), new Declared(t.getText(), type, t.getStartIndex()));
        }
    }

    private static String key(String name) {
        return name.toUpperCase(Locale.ROOT);
    }

    /** Its pieces in their order; what is between them is space. */
    public List<Piece> pieces() {
        return tokens.stream().map(t -> new Piece(t.getStartIndex(), t.getStopIndex() + 1, kind(t))).toList();
    }

    private Kind kind(Token t) {
        return switch (t.getType()) {
            case StructuredTextLexer.COMMENT -> Kind.COMMENT;
            case StructuredTextLexer.DURATION, StructuredTextLexer.CALENDAR, StructuredTextLexer.CHARACTERS, StructuredTextLexer.BASED,
                    StructuredTextLexer.TYPED, StructuredTextLexer.REAL,
                    StructuredTextLexer.INTEGER -> Kind.NUMBER;
            case StructuredTextLexer.ID -> declared.containsKey(key(t.getText())) ? Kind.NAME
                    : TextType.named(t.getText()) != null || Compilation.standardBlocks().containsKey(key(t.getText())) ? Kind.TYPE
                    : StandardFunctions.isKnown(t.getText()) ? Kind.FUNCTION : Kind.NAME;
            default -> isKeyword(t) ? Kind.KEYWORD : Kind.OTHER;
        };
    }

    /**
     * What may be written where a name is begun.
     *
     * @param at index behind what is written of it
     * @return best first: names of the text, then functions, types and keywords; behind a dot, the variables of a function block
     */
    public List<Proposal> proposals(int at) {
        int start = start(at);
        String begun = key(text.substring(start, at));
        Map<String, Proposal> found = new LinkedHashMap<>();
        if (start > 0 && text.charAt(start - 1) == '.') {
            members(text.substring(start(start - 1), start - 1)).forEach((name, remark) -> found.put(name, new Proposal(name, remark)));
        } else {
            declared.values().forEach(d -> found.put(key(d.name()), new Proposal(d.name(), d.type())));
            StandardFunctions.names().forEach(f -> found.putIfAbsent(f, new Proposal(f, "function")));
            if (tokens.stream().anyMatch(t -> t.getType() == StructuredTextLexer.VAR_CONTACT)) {
                found.putIfAbsent(ElementText.RATE, new Proposal(ElementText.RATE, "rate of change"));
            }
            Compilation.standardBlocks().keySet().forEach(b -> found.putIfAbsent(b, new Proposal(b, "function block")));
            for (TextType t : TextType.values()) {
                found.putIfAbsent(t.name(), new Proposal(t.name(), "type"));
            }
            KEYWORDS.forEach(k -> found.putIfAbsent(k, new Proposal(k, "keyword")));
        }
        return found.values().stream().filter(p -> key(p.text()).startsWith(begun) && !key(p.text()).equals(begun)).toList();
    }

    /** Index of the first character of the name that ends at an index. */
    public int start(int at) {
        int start = Math.min(at, text.length());
        while (start > 0 && isPartOfName(text.charAt(start - 1))) {
            start--;
        }
        return start;
    }

    private static boolean isPartOfName(char c) {
        return c == '_' || c < 128 && Character.isLetterOrDigit(c);
    }

    /** The variables of a declared function block; of a step, X and T. */
    private Map<String, String> members(String name) {
        Declared d = declared.get(key(name));
        if (d == null) {
            return Map.of();
        }
        if (d.type().equals("step")) {
            return new TreeMap<>(Map.of("X", "active", "T", "time it has been active"));
        }
        return Optional.ofNullable(Compilation.standardBlocks().get(key(d.type()))).orElseGet(() -> own(d.type()));
    }

    /** The variables of a function block of this text. */
    private Map<String, String> own(String type) {
        Map<String, String> members = new HashMap<>();
        for (var fb : ParsedText.block(text).unit().functionBlock()) {
            if (fb.name != null && key(fb.name.getText()).equals(key(type))) {
                members.putAll(Compilation.variables(fb));
            }
        }
        return members;
    }

    /** Where the name at an index is declared; empty where there is none, or the text does not declare it. */
    public OptionalInt declaration(int at) {
        for (Token t : tokens) {
            if (isName(t) && t.getStartIndex() <= at && at <= t.getStopIndex() + 1 && declared.containsKey(key(t.getText()))) {
                return OptionalInt.of(declared.get(key(t.getText())).at());
            }
        }
        return OptionalInt.empty();
    }
}
