package boldanvil.core.simulate;

import boldanvil.core.finding.FindingException;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.program.Tunable;
import boldanvil.core.quantity.Units;

/** Resolves full addresses of tunables. */
public final class Addresses {
    /** A tunable and its part. */
    public record Found(String part, Program program, Tunable tunable) {}

    private Addresses() {}

    /** The tunable at an address, or a finding that says which there are. */
    public static Found tunable(LoweredSystem system, String address) {
        int dot = address.indexOf('.');
        String part = dot < 0 ? address : address.substring(0, dot);
        var program = system.program(part).orElseThrow(() -> FindingException.of(address, "There is no part '" + part + "'.",
                "Parts are: " + String.join(", ", system.parts().keySet()) + "."));
        String name = dot < 0 ? "" : address.substring(dot + 1);
        return new Found(part, program, program.tunable(name).orElseThrow(() -> FindingException.of(address,
                "The part has no tunable '" + name + "'.", "Tunables are: "
                + String.join(", ", program.tunables().stream().map(Tunable::name).toList()) + ".")));
    }

    private static String shown(Tunable t, double si) {
        String unit = t.slot().unit();
        return Units.fromSi(unit, si) + (unit.isEmpty() ? "" : " " + unit);
    }

    /** The tunable at an address, after checking a value against its limits. */
    public static Found tunable(LoweredSystem system, String address, double value) {
        var found = tunable(system, address);
        var t = found.tunable();
        if (!(value >= t.minimum() && value <= t.maximum())) {
            throw FindingException.of(address, "The value " + shown(t, value) + " is outside " + shown(t, t.minimum()) + " to " + shown(t,
                    t.maximum()) + ".",
                    "Choose a value within the limits, or change them in the block.");
        }
        return found;
    }
}
