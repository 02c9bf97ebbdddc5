package boldanvil.core.stock;

import java.util.Map;

/** A block's parameter texts, with the type's defaults behind them. */
public record Settings(BlockType type, Map<String, String> texts) {
    /** The text of a parameter. */
    public String text(String parameter) {
        String t = texts.get(parameter);
        return t != null ? t : type.parameter(parameter).initial();
    }
}
