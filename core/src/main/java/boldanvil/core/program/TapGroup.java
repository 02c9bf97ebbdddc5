package boldanvil.core.program;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Taps of a program that get their values at the same instants.
 *
 * @param periodTicks how often, in base ticks
 * @param continuous whether by {@code sample} and not by {@code step}
 * @param taps at least one, in the program's order
 */
public record TapGroup(int periodTicks, boolean continuous, List<Tap> taps) {
    public TapGroup {
        taps = List.copyOf(taps);
    }

    /** The groups of a program, in the order of their first taps. */
    public static List<TapGroup> of(Program program) {
        record Instants(int periodTicks, boolean continuous) {}
        Map<Instants, List<Tap>> sorted = new LinkedHashMap<>();
        for (Tap t : program.taps()) {
            sorted.computeIfAbsent(new Instants(t.periodTicks(), t.continuous()), _ -> new ArrayList<>()).add(t);
        }
        return sorted.entrySet().stream().map(e -> new TapGroup(e.getKey().periodTicks(), e.getKey().continuous(), e.getValue())).toList();
    }
}
