package boldanvil.core.replay;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.sheet.SheetSource;
import boldanvil.core.simulate.StateTransfer;
import java.util.HashMap;
import java.util.Map;

/**
 * Potentials and flows at the contacts of elements while a part runs as a model. The part itself has no taps for them; its state between
 * two ticks is taken over into a twin that has.
 *
 * <p>Not safe for use by several threads at once.
 */
public final class LiveContacts {
    private final WireTaps taps;
    private final StateTransfer transfer;
    private final Instance twin;
    private final Map<String, Slot> slots = new HashMap<>();
    private final String part;

    /**
     * Compiles the twin of a part, which takes some seconds for a large one.
     *
     * @param project as it was when the run began, with the values of the rig
     * @param running program of the part as it runs
     */
    public LiveContacts(Project project, String part, Program running) {
        this.part = part;
        taps = WireTaps.of(SheetSource.of(project, LoweredSystem.of(project).orThrow(), java.util.List.of()), Map.of());
        Program tapped = LoweredSystem.of(taps.project()).orThrow().program(part).orElseThrow();
        transfer = new StateTransfer(running, tapped);
        twin = JvmCompiler.compile(tapped).instantiate();
        tapped.taps().forEach(t -> slots.put(part + "." + t.name(), t.slot()));
    }

    /** The part whose contacts it shows. */
    public String part() {
        return part;
    }

    /** Reads the state of the part; between two of its ticks. */
    public StateTransfer.Taken take(Instance running) {
        return transfer.take(running);
    }

    /**
     * The values on a sheet, SI.
     *
     * @param path diagram path of the sheet
     * @return by block id and port, joined by a dot
     */
    public Map<String, Double> values(StateTransfer.Taken state, SheetRef ref, String path) {
        transfer.give(state, twin);
        twin.sample();
        Map<String, Double> values = new HashMap<>();
        taps.addresses(ref, path).forEach((source, address) -> {
            Slot slot = slots.get(address);
            if (slot != null) {
                values.put(source.block() + "." + source.port(), twin.get(slot));
            }
        });
        return values;
    }
}
