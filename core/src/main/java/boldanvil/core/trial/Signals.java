package boldanvil.core.trial;

import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.quantity.Live;
import boldanvil.core.quantity.Units;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** What conditions can name: taps, tunables and ports of all parts, by full address. */
final class Signals {
    private record Found(String part, Slot slot, String unit) {}

    private final Map<String, Found> all = new LinkedHashMap<>();
    private final Map<String, Instance> instances;
    private long now;

    /** @param instances one for each part; empty where a trial is only checked, so that every value is 0 */
    Signals(LoweredSystem system, Map<String, Instance> instances) {
        this.instances = instances;
        system.parts().forEach((part, lowered) -> lowered.program().ifPresent(p -> {
            p.ports().stream().filter(port -> port.isOnSystemSheet()).forEach(port -> all.put(part + "." + port.name(),
                    new Found(part, port.slot(), port.slot().unit())));
            p.tunables().forEach(t -> all.put(part + "." + t.name(), new Found(part, t.slot(), t.slot().unit())));
            p.taps().forEach(t -> all.put(part + "." + t.name(), new Found(part, t.slot(), t.unit())));
        }));
    }

    /** The instant the trial has reached, which is the signal {@code time}. */
    void now(long nanos) {
        now = nanos;
    }

    /** A signal, or null. */
    Live find(String name) {
        if (name.equals("time")) {
            return new Live(() -> now / 1e9, Dimension.of("s").orElseThrow());
        }
        var found = all.get(name);
        if (found == null) {
            return null;
        }
        Instance in = instances.get(found.part());
        Slot slot = found.slot();
        return new Live(in == null ? () -> 0 : () -> in.get(slot), found.unit().isEmpty() ? null : Dimension.of(found.unit()).orElse(null));
    }

    boolean has(String name) {
        return all.containsKey(name);
    }

    String unit(String name) {
        var found = all.get(name);
        return found == null ? "" : found.unit();
    }

    double value(String name) {
        var found = all.get(name);
        Instance in = instances.get(found.part());
        return in == null ? 0 : in.get(found.slot());
    }

    /** Present values of signals, for people. */
    String shown(Collection<String> names) {
        return names.stream().filter(all::containsKey).map(n -> n + " = " + shown(value(n), unit(n))).collect(Collectors.joining(", "));
    }

    /** A value in SI as it is shown in its unit. */
    static String shown(double si, String unit) {
        double v = Units.fromSi(unit, si);
        String number = v == Math.rint(v) && Math.abs(v) < 1e9 ? String.format(Locale.ROOT, "%.0f", v)
                : String.format(Locale.ROOT, "%.5g", v);
        return unit.isEmpty() ? number : number + " " + unit;
    }
}
