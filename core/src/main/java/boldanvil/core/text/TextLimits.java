package boldanvil.core.text;

import java.util.Optional;
import org.antlr.v4.runtime.BaseErrorListener;
import org.antlr.v4.runtime.CharStreams;
import org.antlr.v4.runtime.Token;

/** How large, how deep and how much work a text may be, so that reading and checking it takes a moment only, whoever wrote it. */
final class TextLimits {
    /** Characters. */
    static final int LONGEST = 200_000;
    /** Brackets and statements within each other. */
    static final int DEEPEST = 100;
    /** Operators in one expression. */
    static final int OPERATORS = 500;
    /** Signs and NOT in a row. */
    static final int SIGNS = 50;
    /** Words, numbers and signs. */
    static final int TOKENS = 60_000;
    /** Statements the text becomes, those of all instances of function blocks included. */
    static final int STATEMENTS = 100_000;
    /** Statements of the whole program of a PLC. */
    static final int STATEMENTS_OF_APPLICATION = 400_000;
    /** How much longer the whole program of a PLC may be than the text of a block. */
    static final int APPLICATION = 10;
    /** Operations in one step, calls of functions included. */
    static final double OPERATIONS = 20e6;

    private TextLimits() {}

    /** What makes a text too large to be read. */
    static Optional<Mistake> check(String text) {
        return check(text, 1);
    }

    /** @param scale how many times as long as the text of a block it may be */
    static Optional<Mistake> check(String text, int scale) {
        if (text.length() > LONGEST * scale) {
            return Optional.of(new Mistake(1, 1, "The text is longer than " + LONGEST * scale + " characters.",
                    "Divide it among several blocks.", false));
        }
        var lexer = new StructuredTextLexer(CharStreams.fromString(text));
        lexer.removeErrorListeners();
        lexer.addErrorListener(new BaseErrorListener());
        int depth = 0;
        int signs = 0;
        int operators = 0;
        int tokens = 0;
        for (Token t = lexer.nextToken(); t.getType() != Token.EOF; t = lexer.nextToken()) {
            if (t.getChannel() != Token.DEFAULT_CHANNEL) {
                continue;
            }
            String word = t.getText().toUpperCase(java.util.Locale.ROOT);
            depth += opens(word) ? 1 : closes(word) ? -1 : 0;
            boolean sign = word.equals("-") || word.equals("+") || word.equals("NOT");
            signs = sign ? signs + 1 : 0;
            operators = separates(word) ? 0 : operators + (isOperator(word) ? 1 : 0);
            if (++tokens > TOKENS * scale) {
                return tooMuch(t, "The text has more than " + TOKENS * scale + " words and signs.", "Divide it among several blocks.");
            }
            if (depth > DEEPEST) {
                return tooMuch(t, "Brackets or statements are nested deeper than " + DEEPEST + ".",
                        "Move a part into a function or a function block.");
            }
            if (signs > SIGNS) {
                return tooMuch(t, "More than " + SIGNS + " signs in a row.", "Remove all but one.");
            }
            if (operators > OPERATORS) {
                return tooMuch(t, "The expression has more than " + OPERATORS + " operators.", "Divide it into several assignments.");
            }
        }
        return Optional.empty();
    }

    private static Optional<Mistake> tooMuch(Token t, String cause, String cure) {
        return Optional.of(new Mistake(t.getLine(), t.getCharPositionInLine() + 1, cause, cure, false));
    }

    private static boolean opens(String word) {
        return switch (word) {
            // Each ELSIF is one level more where it is written out.
            case "(", "[", "IF", "ELSIF", "FOR", "WHILE", "REPEAT", "CASE" -> true;
            default -> false;
        };
    }

    private static boolean closes(String word) {
        return switch (word) {
            case ")", "]", "END_IF", "END_FOR", "END_WHILE", "END_REPEAT", "END_CASE" -> true;
            default -> false;
        };
    }

    private static boolean separates(String word) {
        return switch (word) {
            case ";", ":=", "THEN", "DO", "OF", "ELSE", "," -> true;
            default -> false;
        };
    }

    private static boolean isOperator(String word) {
        return switch (word) {
            case "+", "-", "*", "/", "**", "MOD", "AND", "&", "OR", "XOR", "NOT", "<", ">", "<=", ">=", "=", "<>", "." -> true;
            default -> false;
        };
    }
}
