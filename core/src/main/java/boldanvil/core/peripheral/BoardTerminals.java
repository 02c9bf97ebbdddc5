package boldanvil.core.peripheral;

import boldanvil.core.instance.Instance;
import boldanvil.core.instance.Pulse;
import boldanvil.core.program.Port;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Terminal;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * An instance seen through a board's peripherals: what goes in is quantised as converters and counters do, what comes out as timers do.
 * As on the device, inputs are taken at the beginning of each step. Ports that are no terminals pass as they are.
 */
public final class BoardTerminals implements Instance {
    /** A terminal's signals on its wires and its model. */
    private record Place(Terminal terminal, PinModel model, double[] wires) {}

    private record Wire(Place place, int at) {}

    private final Instance inner;
    private final BoardSetup setup;
    private final List<Place> inputs = new ArrayList<>();
    private final List<Place> outputs = new ArrayList<>();
    private final Map<Slot, Wire> wires = new IdentityHashMap<>();

    public BoardTerminals(Instance inner, BoardSetup setup) {
        this.inner = inner;
        this.setup = setup;
        for (Terminal t : setup.program().terminals()) {
            PinModel model = Peripherals.model(setup, t);
            if (model != null) {
                var place = new Place(t, model, new double[t.ports().size()]);
                (t.isInput() ? inputs : outputs).add(place);
                for (int i = 0; i < t.ports().size(); i++) {
                    wires.put(t.ports().get(i).slot(), new Wire(place, i));
                }
            }
        }
        rest();
    }

    private void rest() {
        for (Place p : inputs) {
            p.model().init();
            for (int i = 0; i < p.wires().length; i++) {
                p.wires()[i] = inner.get(p.terminal().ports().get(i).slot());
            }
        }
        for (Place p : outputs) {
            p.model().init();
            java.util.Arrays.fill(p.wires(), 0);
        }
    }

    @Override
    public void init() {
        inner.init();
        rest();
    }

    @Override
    public void sample() {
        inner.sample();
    }

    @Override
    public void step() {
        outputs.forEach(p -> p.model().begin());
        for (Place p : inputs) {
            double[] seen = p.model().signals(p.model().counts(p.wires()));
            for (int i = 0; i < seen.length; i++) {
                inner.set(p.terminal().ports().get(i).slot(), seen[i]);
            }
        }
        inner.step();
        outputs();
    }

    @Override
    public void advance() {
        inner.advance();
        outputs();
    }

    private void outputs() {
        for (Place p : outputs) {
            double[] wanted = new double[p.wires().length];
            for (int i = 0; i < wanted.length; i++) {
                wanted[i] = inner.get(p.terminal().ports().get(i).slot());
            }
            double[] made = p.model().signals(p.model().counts(wanted));
            System.arraycopy(made, 0, p.wires(), 0, made.length);
        }
    }

    @Override
    public void end() {
        inner.end();
    }

    @Override
    public double[] save() {
        var kept = new Kept().put(inner.save());
        Stream.of(inputs, outputs).flatMap(List::stream).forEach(p -> {
            kept.put(p.wires());
            p.model().save(kept);
        });
        return kept.toArray();
    }

    @Override
    public void restore(double[] state) {
        var kept = new Kept(state);
        inner.restore(kept.array());
        Stream.of(inputs, outputs).flatMap(List::stream).forEach(p -> {
            double[] wires = kept.array();
            System.arraycopy(wires, 0, p.wires(), 0, wires.length);
            p.model().restore(kept);
        });
    }

    @Override
    public void set(Slot slot, double[] elements) {
        inner.set(slot, elements);
    }

    @Override
    public double[] elements(Slot slot) {
        return inner.elements(slot);
    }

    @Override
    public double get(Slot slot) {
        var wire = wires.get(slot);
        return wire != null && slot.role() == Slot.Role.OUTPUT ? wire.place().wires()[wire.at()] : inner.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        var wire = wires.get(slot);
        if (wire != null && slot.role() == Slot.Role.INPUT) {
            wire.place().wires()[wire.at()] = value;
        } else {
            inner.set(slot, value);
        }
    }

    @Override
    public Pulse pulse(Port port) {
        return pulse(setup, port);
    }

    /** The pulses of a PWM terminal as the board's timer makes them. */
    public static Pulse pulse(BoardSetup setup, Port port) {
        var terminal = setup.program().terminal(port.owner()).orElseThrow();
        var asked = Pulse.asked(port);
        return setup.pwm(terminal).map(p -> new Pulse(p.hertz(), setup.deadTime(terminal).map(PinMath.Dead::seconds).orElse(0.0),
                p.centre())).orElse(asked);
    }
}
