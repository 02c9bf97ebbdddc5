package boldanvil.core.text;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.antlr.v4.runtime.CommonToken;
import org.antlr.v4.runtime.Token;

/**
 * Lets words that mean something in one place only be names everywhere else, such as {@code on} or {@code type}: many programs use them
 * so.
 */
final class SoftKeywords {
    private SoftKeywords() {}

    /** Makes names of the words that stand where they are not keywords. */
    static void soften(List<Token> all) {
        List<Token> tokens = all.stream().filter(t -> t.getChannel() == Token.DEFAULT_CHANNEL).toList();
        Set<Integer> present = new TreeSet<>();
        tokens.forEach(t -> present.add(t.getType()));
        for (int i = 0; i < tokens.size(); i++) {
            Token t = tokens.get(i);
            if (!isKeyword(tokens, i, present) && t instanceof CommonToken c) {
                c.setType(StructuredTextLexer.ID);
            }
        }
    }

    private static boolean isKeyword(List<Token> tokens, int i, Set<Integer> present) {
        return switch (tokens.get(i).getType()) {
            case StructuredTextLexer.AT -> type(tokens, i + 1) == StructuredTextLexer.ADDRESS;
            case StructuredTextLexer.ON -> text(tokens, i - 2).equalsIgnoreCase("RESOURCE");
            case StructuredTextLexer.WITH -> text(tokens, i - 2).equalsIgnoreCase("PROGRAM");
            case StructuredTextLexer.RESOURCE -> text(tokens, i + 2).equalsIgnoreCase("ON");
            case StructuredTextLexer.TASK -> text(tokens, i + 2).equals("(") && present.contains(StructuredTextLexer.END_CONFIGURATION);
            case StructuredTextLexer.PROGRAM -> isWord(tokens, i + 1)
                    && (present.contains(StructuredTextLexer.END_PROGRAM) || present.contains(StructuredTextLexer.END_CONFIGURATION));
            case StructuredTextLexer.CONFIGURATION -> isWord(tokens, i + 1) && present.contains(StructuredTextLexer.END_CONFIGURATION);
            case StructuredTextLexer.TYPE -> isWord(tokens, i + 1) && text(tokens, i + 2).equals(":")
                    && present.contains(StructuredTextLexer.END_TYPE);
            case StructuredTextLexer.STRUCT -> text(tokens, i - 1).equals(":") && present.contains(StructuredTextLexer.END_STRUCT);
            case StructuredTextLexer.METHOD -> isWord(tokens, i + 1) && present.contains(StructuredTextLexer.END_METHOD);
            case StructuredTextLexer.RETAIN, StructuredTextLexer.NON_RETAIN -> isVar(type(tokens, i - 1));
            case StructuredTextLexer.R_EDGE, StructuredTextLexer.F_EDGE -> text(tokens, i - 1).equalsIgnoreCase("BOOL");
            default -> true;
        };
    }

    private static int type(List<Token> tokens, int i) {
        return i < 0 || i >= tokens.size() ? Token.EOF : tokens.get(i).getType();
    }

    private static String text(List<Token> tokens, int i) {
        return i < 0 || i >= tokens.size() ? "" : tokens.get(i).getText();
    }

    private static boolean isWord(List<Token> tokens, int i) {
        String t = text(tokens, i);
        return !t.isEmpty() && (Character.isLetter(t.charAt(0)) || t.charAt(0) == '_');
    }

    private static boolean isVar(int type) {
        return switch (type) {
            case StructuredTextLexer.VAR, StructuredTextLexer.VAR_INPUT, StructuredTextLexer.VAR_OUTPUT, StructuredTextLexer.VAR_GLOBAL,
                    StructuredTextLexer.CONSTANT -> true;
            default -> false;
        };
    }
}
