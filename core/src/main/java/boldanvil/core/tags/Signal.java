package boldanvil.core.tags;

import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * What of a part can be bound to a tag.
 *
 * @param name of a port as the system sheet has it, or the address of a tunable or a recorded signal, such as {@code sequence.step}
 */
public record Signal(String name, Use use, Slot slot) {
    /** What it is for the part. */
    public enum Use {
        /** The other parts give it to the PLC. */
        INPUT,
        /** The PLC gives it to the other parts. */
        OUTPUT,
        /** It may be changed while the rig runs. */
        TUNABLE,
        /** It is recorded. */
        SIGNAL;

        /** The word people read. */
        public String label() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** All of a part: ports first, then tunables and recorded signals that are no ports. */
    public static List<Signal> of(Program program) {
        List<Signal> all = new ArrayList<>();
        Set<Slot> seen = new HashSet<>();
        program.ports().forEach(p -> {
            all.add(new Signal(p.name(), p.isInput() ? Use.INPUT : Use.OUTPUT, p.slot()));
            seen.add(p.slot());
        });
        program.tunables().forEach(t -> {
            if (!t.slot().isArray() && seen.add(t.slot())) {
                all.add(new Signal(program.name() + "." + t.name(), Use.TUNABLE, t.slot()));
            }
        });
        program.taps().forEach(t -> {
            if (!t.slot().isArray() && seen.add(t.slot())) {
                all.add(new Signal(program.name() + "." + t.name(), Use.SIGNAL, t.slot()));
            }
        });
        return all;
    }

    public boolean isPort() {
        return use == Use.INPUT || use == Use.OUTPUT;
    }

    /** Whether the PLC gets it. */
    public boolean isWritten() {
        return use == Use.INPUT || use == Use.TUNABLE;
    }
}
