package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.board.Board;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.review.Review;
import boldanvil.core.samples.Samples;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.testing.RigModels;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.junit.jupiter.api.Test;

/**
 * The gate drive's loop through two stand-ins, against a model in one process. What differs is explained by delay and resolution alone:
 * with the delays in the model, the rest is of the size of the resolution, and falls with it.
 */
class TargetLoopTest {
    private static final Project DEMO = fineEncoder(ProjectReader.read(Path.of("../demo/gate-network")));
    private static final long NANOS = 600_000_000;
    private static final String SPEED = "servo.shaft_speed";
    private static final String CURRENT = "servo.A_amps";

    /** Counts of a usual encoder make the least difference another course after a while; with a fine one, it stays as small as it is. */
    private static Project fineEncoder(Project p) {
        var mapping = p.mappings().get("servo");
        return p.withVariables(p.variables().stream().map(v -> v.name().equals("encoder_lines") ? v.valued("65536") : v).toList())
                .withMapping("servo", mapping.with(mapping.row("shaft").orElseThrow().withLines(65_536)));
    }

    /** A plant whose inputs and outputs are late by whole steps of its own. */
    private static final class Late implements Instance {
        private final Instance inner;
        private final int inputs;
        private final int outputs;
        private final Map<Slot, Double> wires = new IdentityHashMap<>();
        private final Map<Slot, ArrayDeque<Double>> taken = new IdentityHashMap<>();
        private final Map<Slot, ArrayDeque<Double>> given = new IdentityHashMap<>();

        private final Map<Slot, Double> beginning = new IdentityHashMap<>();

        Late(Instance inner, List<Slot> outlets, int inputs, int outputs) {
            this.inner = inner;
            this.inputs = inputs;
            this.outputs = outputs;
            outlets.forEach(s -> given.put(s, new ArrayDeque<>()));
            inner.sample();
            outlets.forEach(slot -> beginning.put(slot, inner.get(slot)));
        }

        @Override
        public void init() {
            inner.init();
        }

        @Override
        public void sample() {
            inner.sample();
            given.forEach((slot, line) -> line.addLast(inner.get(slot)));
        }

        @Override
        public void step() {
            // What stands on a wire now, after the others have stepped, is seen from the next step on.
            wires.forEach((slot, value) -> {
                var line = taken.computeIfAbsent(slot, _ -> new ArrayDeque<>());
                line.addLast(value);
                inner.set(slot, line.size() > inputs ? line.removeFirst() : 0);
            });
            inner.step();
        }

        @Override
        public void advance() {
            inner.advance();
        }

        @Override
        public double get(Slot slot) {
            var line = given.get(slot);
            if (line == null) {
                return inner.get(slot);
            }
            while (line.size() > outputs + 1) {
                line.removeFirst();
            }
            return line.size() > outputs ? line.peekFirst() : beginning.get(slot);
        }

        @Override
        public void set(Slot slot, double value) {
            if (slot.role() == Slot.Role.INPUT) {
                wires.put(slot, value);
            } else {
                inner.set(slot, value);
            }
        }
    }

    /** Runs the rig with its servo on the target, or as another one where that is given. */
    private static Samples run(Project project, Function<LoweredSystem, Instance> servo) {
        Rig rig = project.rig("hearth").orElseThrow();
        var review = Review.of(project.as(rig)).orThrow();
        Map<String, Instance> instances = RigModels.instances(review, rig);
        if (servo != null) {
            instances.put("servo", servo.apply(review.system()));
        }
        var conductor = RigModels.conductor(review, instances);
        var recorder = new Recorder(review.system(), instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        while (conductor.nowNanos() < NANOS) {
            conductor.tick();
        }
        return recorder.store();
    }

    private static Samples target(Project project) {
        return run(project, null);
    }

    private static Samples late(int inputs, int outputs) {
        return run(DEMO, system -> {
            var program = system.program("servo").orElseThrow();
            return new Late(JvmCompiler.compile(program).instantiate(), program.ports().stream().filter(p -> !p.isInput())
                    .map(p -> p.slot()).toList(), inputs, outputs);
        });
    }

    /** The greatest difference of two runs up to an instant. */
    private static double difference(Samples a, Samples b, String tap, double until) {
        var x = a.series(a.indexOf(tap));
        var y = b.series(b.indexOf(tap));
        assertThat(x.size()).isEqualTo(y.size()).isGreaterThan(10_000);
        double most = 0;
        for (int i = 0; i < x.size() && x.times()[i] < until; i++) {
            most = Math.max(most, Math.abs(x.values()[i] - y.values()[i]));
        }
        return most;
    }

    private static String file() {
        try (var in = Board.class.getResourceAsStream("hearth-rt8.json")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The demo with a target of other resolution. */
    private static Project finer(int bits, int stampNanos) {
        String text = file().replace("\"name\": \"hearth-rt8\"",
                "\"name\": \"finer\"").replace("\"bits\": 16", "\"bits\": " + bits).replace("\"stampNanos\": 10", "\"stampNanos\": "
                + stampNanos);
        var mapping = DEMO.mappings().get("servo");
        return DEMO.withBoards(Map.of("finer", text)).withMapping("servo", new Mapping("finer",
                mapping.budgetSeconds(), mapping.rows())).withRigs(DEMO.rigs().stream().map(r -> r.name().equals("hearth")
                        ? r.with("servo", new Rig.Place("finer", r.place("servo").seat())) : r).toList());
    }

    @Test
    void differencesFromOneProcessAreThoseOfDelayAndResolution() {
        Samples stand = target(DEMO);
        // A duty cycle waits for the timer's next update, 25 µs on, and is captured within the step of 25 µs after it: one step more than
        // in one process. What the plant gives settles 2 µs after its step begins, so the controller sees the step before.
        Samples explained = late(1, 1);
        Samples ideal = late(0, 0);
        // A count of the converter of Swage 32 is 16 mA, that of Hearth RT8 behind its scale of 3 is 2 mA.
        double count = 3.3 / 4096 / 0.05;
        assertThat(difference(stand, explained, CURRENT, 0.6)).isLessThan(3 * count)
                .isLessThan(difference(stand, ideal, CURRENT, 0.6) / 8);
        assertThat(difference(stand, explained, SPEED, 0.6)).isLessThan(difference(stand, ideal, SPEED, 0.6) / 30);
        // Before the first count of the controller differs, what is left is the resolution of the target, and falls with it.
        assertThat(difference(stand, explained, CURRENT, 0.002)).isLessThan(2 * 20.0 / 65_536 / 3 / 0.05 + 48 * 10e-9 / 1.2e-3 * 3);
        double rest = difference(stand, explained, SPEED, 0.002);
        assertThat(rest).isLessThan(difference(stand, ideal, SPEED, 0.002) / 50);
        assertThat(difference(target(finer(24, 1)), explained, SPEED, 0.002)).isLessThan(rest / 15);
    }
}
