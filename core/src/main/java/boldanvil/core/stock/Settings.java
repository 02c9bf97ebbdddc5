package boldanvil.core.stock;

import java.util.LinkedHashMap;
import java.util.Map;

/** A block's parameter texts, with the type's defaults behind them. */
public record Settings(BlockType type, Map<String, String> texts) {
    /** Setting of every block: the sample time, an expression or {@link #CONTINUOUS}; without it, that of its surroundings. */
    public static final String SAMPLE_TIME = "sample time";
    public static final String CONTINUOUS = "continuous";

    public Settings {
        texts = present(type, texts);
    }

    /** The texts under the present names of their parameters. */
    private static Map<String, String> present(BlockType type, Map<String, String> texts) {
        if (type.formerParameters().isEmpty()) {
            return texts;
        }
        Map<String, String> present = new LinkedHashMap<>();
        texts.forEach((name, text) -> present.put(type.formerParameters().getOrDefault(name, name), text));
        return present;
    }

    /** The name under which these texts hold a parameter: a former one where the file is of a former version. */
    public static String key(BlockType type, Map<String, String> texts, String parameter) {
        return type.formerParameters().entrySet().stream().filter(e -> e.getValue().equals(parameter) && texts.containsKey(e.getKey()))
                .map(Map.Entry::getKey).findFirst().orElse(parameter);
    }

    /** The text of a parameter. */
    public String text(String parameter) {
        String t = given(parameter);
        var p = type.parameter(parameter);
        // Ports and types follow from choices; one that does not exist is reported, and counts as the first.
        return p.kind() == Parameter.Kind.CHOICE && !p.choices().contains(t) ? p.initial() : t;
    }

    /** The text as it was given, whether or not it can be used; the default where none was. A former name of a choice is replaced. */
    public String given(String parameter) {
        var p = type.parameter(parameter);
        String t = texts.getOrDefault(parameter, p.initial());
        return p.formerChoices().getOrDefault(t, t);
    }
}
