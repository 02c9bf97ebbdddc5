package boldanvil.core.program;

import java.util.List;
import java.util.Map;

/**
 * A terminal of a part with all its ports, in the order its kind gives them.
 *
 * @param name the block's name
 * @param path diagram place
 * @param numbers numeric parameters by name, SI
 * @param texts choices and texts by name
 */
public record Terminal(String name, TerminalKind kind, String path, Map<String, Double> numbers, Map<String, String> texts,
        List<Port> ports) {
    public Terminal {
        numbers = Map.copyOf(numbers);
        texts = Map.copyOf(texts);
        ports = List.copyOf(ports);
    }

    /** A numeric parameter, SI. */
    public double number(String parameter) {
        Double v = numbers.get(parameter);
        if (v == null) {
            throw new IllegalArgumentException(name + " has no " + parameter);
        }
        return v;
    }

    /** Whether a choice is set to a text. */
    public boolean has(String parameter, String text) {
        return text.equals(texts.get(parameter));
    }

    public boolean isInput() {
        return !ports.isEmpty() && ports.getFirst().isInput();
    }
}
