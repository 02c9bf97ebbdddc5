package boldanvil.core.trial;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** A line divided at words such as {@code to} or {@code within}, which stand alone, outside of brackets and quotes. */
record Clauses(String head, Map<String, String> parts) {
    /** @throws IllegalArgumentException when a word stands there twice, or nothing follows it */
    static Clauses of(String text, Collection<String> words) {
        Map<String, String> parts = new LinkedHashMap<>();
        String head = null;
        String open = null;
        int begin = 0;
        int depth = 0;
        boolean quoted = false;
        for (int i = 0; i <= text.length(); i++) {
            char c = i < text.length() ? text.charAt(i) : ' ';
            quoted ^= c == '\'' || c == '"';
            depth += quoted ? 0 : c == '(' || c == '[' ? 1 : c == ')' || c == ']' ? -1 : 0;
            String word = i == text.length() || quoted || depth != 0 || i > 0 && !Character.isWhitespace(text.charAt(i - 1)) ? ""
                    : wordAt(text, i);
            if (i < text.length() && !words.contains(word)) {
                continue;
            }
            String part = text.substring(begin, i).strip();
            if (open == null) {
                head = part;
            } else if (part.isEmpty()) {
                throw new IllegalArgumentException("Nothing follows '" + open + "'.");
            } else if (parts.put(open, part) != null) {
                throw new IllegalArgumentException("'" + open + "' stands there twice.");
            }
            open = word;
            begin = i + word.length();
            i += Math.max(0, word.length() - 1);
        }
        return new Clauses(head, parts);
    }

    private static String wordAt(String text, int from) {
        int end = from;
        while (end < text.length() && !Character.isWhitespace(text.charAt(end))) {
            end++;
        }
        return text.substring(from, end);
    }

    String part(String word) {
        return parts.getOrDefault(word, "");
    }

    /** @throws IllegalArgumentException when one is missing */
    Clauses require(List<String> words, String example) {
        for (String w : words) {
            if (!parts.containsKey(w)) {
                throw new IllegalArgumentException("'" + w + "' is missing; write for example: " + example);
            }
        }
        if (head.isEmpty()) {
            throw new IllegalArgumentException("The step is incomplete; write for example: " + example);
        }
        return this;
    }
}
