package boldanvil.core.stock;

import java.util.Map;

/** A block's parameter texts, with the type's defaults behind them. */
public record Settings(BlockType type, Map<String, String> texts) {
    /** The text of a parameter. */
    public String text(String parameter) {
        String t = texts.get(parameter);
        var p = type.parameter(parameter);
        // Ports and types follow from choices; one that does not exist is reported, and counts as the first.
        return t == null || p.kind() == Parameter.Kind.CHOICE && !p.choices().contains(t) ? p.initial() : t;
    }

    /** The text as it was given, whether or not it can be used; the default where none was. */
    public String given(String parameter) {
        return texts.getOrDefault(parameter, type.parameter(parameter).initial());
    }
}
