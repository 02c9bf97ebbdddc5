package boldanvil.core.replay;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.replay.Why.Part;
import boldanvil.core.simulate.Change;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.nio.file.Path;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class WhyTest {
    private static final SheetRef MAIN = new SheetRef("p", "main");

    private static LiveRun run(Project p, double seconds, Change... changes) throws InterruptedException {
        var run = RigStarter.prepare(p, "desk", new RunOptions((long) (seconds * 1e9), Double.POSITIVE_INFINITY, List.of(changes),
                Path.of("target/build")), Progress.NONE);
        run.start();
        run.awaitEnd();
        return run;
    }

    private static Replay replay(LiveRun run) throws InterruptedException {
        var replay = new Replay(run.review().project(), run.rig(), run.interventions(), run.store());
        replay.prepare(_ -> { });
        assertThat(replay.differences()).isEmpty();
        return replay;
    }

    private static Why why(PartBuilder b, String block, double at, Change... changes) throws InterruptedException {
        Project p = PartBuilder.project(List.of(b.part())).withVariables(List.of(new Variable("V_max", "24 V", "")));
        try (var run = run(p, 0.05, changes)) {
            return replay(run).why(MAIN, "p", block, "y", at).orElseThrow();
        }
    }

    private static Why.Step step(Why why, String path) {
        return why.steps().stream().filter(s -> s.path().equals(path)).findFirst()
                .orElseThrow(() -> new AssertionError(path + " is not among " + why.steps()));
    }

    private static PartBuilder limited() {
        return new PartBuilder("p").block("demand", "tunable", "value=1").block("amplify", "gain", "k=10")
                .block("limit", "saturation", "low=-V_max / 1 V", "high=V_max / 1 V").block("t", "tap")
                .wire("demand.y", "amplify.u").wire("amplify.y", "limit.u").wire("limit.y", "t.u");
    }

    @Test
    void withinItsLimitsAValueComesFromItsInput() throws Exception {
        Why why = why(limited(), "limit", 0.02);
        assertThat(why.value()).isEqualTo(10);
        assertThat(why.steps()).extracting(Why.Step::path).containsExactly("p/limit", "p/amplify", "p/demand");
        assertThat(why.steps()).allMatch(s -> s.part() == Part.VALUE);
        assertThat(step(why, "p/demand").words()).isEqualTo("live parameter value");
        assertThat(why.part(MAIN, "p", new Wire("amplify", "y", "limit", "u"))).contains(Part.VALUE);
    }

    @Test
    void atALimitTheParameterIsTheValueAndTheInputOnlyDecides() throws Exception {
        Why why = why(limited(), "limit", 0.02, new Change("p.demand", 3, 10_000_000));
        assertThat(why.value()).isEqualTo(24);
        assertThat(step(why, "p/limit").words()).isEqualTo("set by high = V_max / 1 V; decided by amplify");
        assertThat(step(why, "p/amplify").part()).isEqualTo(Part.CHOICE);
        assertThat(why.part(MAIN, "p", new Wire("amplify", "y", "limit", "u"))).contains(Part.CHOICE);
    }

    @Test
    void whatASwitchDoesNotChooseHasNoPart() throws Exception {
        var b = new PartBuilder("p").block("on", "tunable", "value=1").block("half", "constant", "value=0.5").block("high", "compare")
                .block("a", "tunable", "value=5").block("b", "tunable", "value=7").block("choose", "switch").block("t", "tap")
                .wire("on.y", "high.a").wire("half.y", "high.b").wire("high.y", "choose.if").wire("a.y", "choose.yes")
                .wire("b.y", "choose.no")
                .wire("choose.y", "t.u");
        Why why = why(b, "choose", 0.01);
        String chosen = why.value() == 5 ? "a" : "b";
        String other = why.value() == 5 ? "b" : "a";
        assertThat(why.involves("p/" + chosen)).isTrue();
        assertThat(why.involves("p/" + other)).isFalse();
        assertThat(step(why, "p/choose").words()).isEqualTo("decided by high; no part: " + other);
        assertThat(step(why, "p/on").part()).isEqualTo(Part.CHOICE);
    }

    @Test
    void aFactorOfZeroHidesTheOther() throws Exception {
        var b = new PartBuilder("p").block("zero", "tunable", "value=0").block("other", "tunable", "value=7")
                .block("times", "product").block("t", "tap")
                .wire("zero.y", "times.u1").wire("other.y", "times.u2").wire("times.y", "t.u");
        assertThat(why(b, "times", 0.01).steps()).extracting(Why.Step::path).containsExactly("p/times", "p/zero");
    }

    @Test
    void whatComesFromAnEarlierTickIsFollowedBack() throws Exception {
        var b = new PartBuilder("p").block("u", "tunable", "value=1").block("old", "delay", "n=1").block("k", "gain", "k=2")
                .block("t", "tap").wire("u.y", "old.u").wire("old.y", "k.u").wire("k.y", "t.u");
        Project p = PartBuilder.project(List.of(b.part()));
        try (var run = run(p, 0.05, new Change("p.u", 4, 20_000_000))) {
            Replay replay = replay(run);
            Why why = replay.why(MAIN, "p", "k", "y", 0.03).orElseThrow();
            assertThat(why.value()).isEqualTo(8);
            assertThat(step(why, "p/old").isKept()).isTrue();
            assertThat(why.involves("p/u")).isFalse();
            Why before = why.back("p/old").orElseThrow();
            assertThat(before.seconds()).isEqualTo(0.02);
            assertThat(before.value()).isEqualTo(4);
            assertThat(step(before, "p/u").words()).contains("live parameter value");
            // Before the change the delay has had its value since its first tick.
            Why first = replay.why(MAIN, "p", "k", "y", 0.015).orElseThrow().back("p/old").orElseThrow();
            assertThat(first.seconds()).isZero();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"larkmere-lock", "gate-drive", "motor-position", "paddle-modes", "workboat"})
    void theTracedValueIsTheReplayedOneOnEveryWireOfTheDemos(String name) throws Exception {
        Project p = ProjectReader.read(Path.of("../demo", name));
        try (var run = run(p, 0.3)) {
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            replay.prepare(_ -> { });
            double at = 0.2;
            for (var e : Paths.of(p).entrySet()) {
                for (String path : e.getValue()) {
                    var values = replay.values(e.getKey(), path, at);
                    for (var v : values.entrySet()) {
                        int dot = v.getKey().indexOf('.');
                        var why = replay.why(e.getKey(), path, v.getKey().substring(0, dot), v.getKey().substring(dot + 1), at);
                        assertThat(why.orElseThrow().value()).as("%s %s", path, v.getKey()).isEqualTo(v.getValue().value());
                    }
                }
            }
        }
    }

    /** Everything that had a part in a value. */
    private static Set<Slot> causes(Node n) {
        Set<Slot> found = Collections.newSetFromMap(new IdentityHashMap<>());
        Set<Node> done = Collections.newSetFromMap(new IdentityHashMap<>());
        visit(n, found, done);
        return found;
    }

    private static void visit(Node n, Set<Slot> found, Set<Node> done) {
        if (done.add(n)) {
            if (n.slot() != null) {
                found.add(n.slot());
            }
            n.causes().forEach(c -> visit(c.node(), found, done));
        }
    }

    /** The same number; a zero has no sign here, for a factor may lend it one. */
    private static void assertSame(String what, double a, double b) {
        assertThat(a + 0.0).as(what).isEqualTo(Double.valueOf(b + 0.0));
    }

    @Property(tries = 150)
    void tracedValuesAreThoseOfTheClassAndWhatHadNoPartMayChange(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        Program program = RandomSheets.part(seed, 25).program();
        Instance i = JvmCompiler.compile(program).instantiate();
        var random = new Random(seed);
        List<Slot> inputs = program.slots().stream().filter(s -> s.role() == Slot.Role.INPUT && !s.isArray()).toList();
        List<Slot> outputs = program.slots().stream().filter(s -> s.role() == Slot.Role.OUTPUT).toList();
        for (int t = 0; t < 12; t++) {
            inputs.forEach(s -> i.set(s, s.type() == boldanvil.core.program.Type.BOOL ? random.nextInt(2) : random.nextInt(21) - 10));
            if (t < 11) {
                i.sample();
                i.step();
                i.advance();
            }
        }
        double[] before = i.save();
        var tracer = new Tracer(program, i);
        tracer.run(Program.SAMPLE);
        tracer.run(Program.STEP);
        i.sample();
        i.step();
        for (Slot out : outputs) {
            assertSame(out.name(), tracer.node(out).value(), i.get(out));
        }
        double[] expected = outputs.stream().mapToDouble(i::get).toArray();
        for (Slot in : inputs) {
            i.restore(before);
            double old = i.get(in);
            i.set(in, in.type() == boldanvil.core.program.Type.BOOL ? 1 - old : old + 3);
            i.sample();
            i.step();
            for (int k = 0; k < expected.length; k++) {
                if (!causes(tracer.node(outputs.get(k))).contains(in)) {
                    assertSame(outputs.get(k) + " by " + in, i.get(outputs.get(k)), expected[k]);
                }
            }
        }
    }
}
