package boldanvil.core.trial;

import boldanvil.core.finding.FindingException;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.simulate.WireFault;
import java.util.List;
import java.util.Map;

/**
 * A fault as it is written, resolved against a rig.
 *
 * @param address one of a wire's ends, or a part
 * @param nanos how long it stays; 0 for until it is cleared
 */
public record FaultText(String address, WireFault fault, long nanos) {
    /**
     * Reads a fault such as {@code offset of 0.2 V on drive.shunt A}, as it stands behind {@code insert} in a trial.
     *
     * @throws FindingException when it is none, or the rig has no such wire or part
     */
    public static FaultText of(String text, LoweredSystem system, Map<String, Quantity> variables) {
        try {
            var step = TrialReader.step(new Step.Line(0, "insert " + text.strip(), List.of()));
            return new Resolver(new TrialSet(Map.of()), new Signals(system, Map.of()), system, variables).fault((Step.Insert) step);
        } catch (IllegalArgumentException e) {
            throw FindingException.of("fault", e.getMessage(), "docs/trials.md lists the faults and the words each needs.");
        }
    }
}
