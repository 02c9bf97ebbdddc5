package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Builder;
import boldanvil.core.build.Sources;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Wire;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.patch.AutoPatch;
import boldanvil.core.patch.PatchCheck;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Type;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Every kind of terminal: the stand-in runs generated C behind its registers, and equals the simulation as built bit for bit. */
class EveryTerminalTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();

    @TempDir
    private Path folder;

    private static PartBuilder sheet(String real) {
        var b = new PartBuilder("all").real(real);
        List<String> sources = List.of("volts|analog in|noise=5 mV|scaling=two points", "amps|analog in|sampling=2 us",
                "shaft|encoder in|index=sets zero|lines=50|filter=800 ns",
                "pulses|capture in|slowest=50 Hz", "key|digital in|debounce=3 ms|active=low", "pin|edge in|edge=both");
        for (String s : sources) {
            String[] w = s.split("\\|");
            b.block(w[0], w[1], List.of(w).subList(2, w.length).toArray(String[]::new));
        }
        for (String out : List.of("volts.y", "amps.y", "shaft.y", "shaft.found", "pulses.f", "pulses.d", "pulses.T", "key.y", "pin.y")) {
            b.block("see " + out.replace('.', ' '), "tap").wire(out, "see " + out.replace('.', ' ') + ".u");
        }
        b.block("leg", "pwm out", "alignment=centre", "outputs=complementary pair", "frequency=18 kHz").wire("volts.y", "leg.u")
                .block("out", "analog out").wire("amps.y", "out.u")
                .block("bridge", "three-phase pwm", "frequency=9 kHz", "trip=trip input").wire("volts.y", "bridge.a")
                .wire("amps.y", "bridge.b").wire("pulses.d", "bridge.c")
                .block("lamp", "digital out", "active=low", "safe=high").wire("key.y", "lamp.u").block("dog", "watchdog");
        return b;
    }

    private DeviceInstance device(BoardSetup setup, Arena arena) throws IOException {
        return device(setup, new Processor(setup), arena);
    }

    private DeviceInstance device(BoardSetup setup, Processor processor, Arena arena) throws IOException {
        var image = new Builder(folder, _ -> { }, () -> false).build(setup.program(), Sources.of(setup));
        Path copy = Files.createTempFile(folder, "image", ".so");
        Files.write(copy, Files.readAllBytes(image.file()));
        return new DeviceInstance(copy, setup, processor, arena);
    }

    private static BoardSetup patched(Board board, Program p) {
        var patch = AutoPatch.complete(board, p, new Patch(board.name(), List.of())).patch();
        assertThat(PatchCheck.check(Boards.shipped(), p, patch, true)).noneMatch(f -> f.isError());
        return new BoardSetup(board, patch, p);
    }

    @ParameterizedTest
    @ValueSource(strings = {"float64", "float32"})
    void theStandInEqualsTheSimulationAsBuilt(String real) throws IOException {
        equal(sheet(real).program(), 600);
        equal(new PartBuilder("lines").real(real).block("got", "packet in", "fields=a: int16, b: float32, c: bool, d: uint32",
                "order=high byte first", "header=AA 55", "rate=57600 Hz")
                .block("sent", "packet out", "fields=a: int16, b: float64, c: bool", "checksum=CRC-32", "rate=57600 Hz")
                .block("level", "register in", "device=level sensor")
                .block("temp", "register in", "address=0x48", "sign=signed", "scale=0.0625", "offset=-3", "order=low byte first")
                .block("spi", "register in", "bus=SPI", "bytes=4", "rate=1 MHz")
                .block("heard", "frame in", "rate=250 kHz").block("told", "frame out", "rate=250 kHz",
                "dbc=BO_ 5 told: 6 c\n SG_ x : 7|13@0- (0.1,2) [0|0] \"\" p\n SG_ y : 20|11@1+ (3,-1) [0|0] \"\" p")
                .block("t1", "tap").wire("got.a", "t1.u").block("t2", "tap").wire("got.b", "t2.u").block("t3", "tap")
                .wire("got.fresh", "t3.u").block("t4", "tap").wire("got.d", "t4.u")
                .block("t5", "tap").wire("level.y", "t5.u").block("t6", "tap").wire("temp.y", "t6.u").block("t7", "tap")
                .wire("heard.speed", "t7.u").block("t8", "tap")
                .wire("heard.fresh", "t8.u").block("t9", "tap").wire("spi.y", "t9.u").wire("got.a", "sent.a").wire("temp.y", "sent.b")
                .wire("got.c", "sent.c")
                .wire("temp.y", "told.x").wire("heard.current", "told.y").program(), 300);
        // The other uses of the two encoder timers.
        equal(new PartBuilder("more").real(real).block("count", "counter in").block("n", "tap").wire("count.y", "n.u")
                .block("gap", "delay in", "longest=100 us").block("g", "tap")
                .wire("gap.y", "g.u").block("step", "pulse out", "maximum=400 kHz").block("k", "gain", "k=3e10").wire("gap.y", "k.u")
                .wire("k.y", "step.u").program(), 300);
    }

    private void equal(Program p, int steps) throws IOException {
        var setup = patched(SWAGE, p);
        try (Arena arena = Arena.ofConfined()) {
            var device = device(setup, arena);
            var compiled = JvmCompiler.compile(p);
            var simulated = new BoardTerminals(compiled.instantiate(), setup);
            var random = new Random(11);
            var wired = p.ports().stream().filter(x -> x.isInput() && x.isOnSystemSheet()).toList();
            double angle = 0;
            double pulses = 0;
            for (int i = 0; i < steps; i++) {
                if (i % 37 == 36) {
                    // A copy continues where this one was saved.
                    double[] state = simulated.save();
                    simulated = new BoardTerminals(compiled.instantiate(), setup);
                    simulated.restore(state);
                }
                angle += random.nextGaussian() * 0.8;
                pulses += random.nextDouble() * 500;
                for (Port port : wired) {
                    double v = switch (port.terminal().label()) {
                        case "analog in" -> random.nextDouble() * 4 - 0.3;
                        case "encoder in", "encoder with index in" -> angle;
                        case "capture in" -> port.name().endsWith("duty") ? random.nextDouble() : random.nextDouble() * 3000;
                        case "counter in" -> pulses;
                        case "edge delay in" -> random.nextDouble() * 2e-5;
                        case "packet in", "CAN frame in", "I²C register in", "SPI register in" -> port.slot().type() == Type.BOOL
                                ? random.nextInt(2) : port.slot().type().convert(random.nextGaussian() * 60);
                        default -> random.nextInt(6) == 0 ? 1 : 0;
                    };
                    for (var instance : List.of(device, simulated)) {
                        instance.set(port.slot(), port.slot().type() == Type.FLOAT32 ? (float) v : v);
                    }
                }
                for (var instance : List.of(device, simulated)) {
                    instance.sample();
                    instance.step();
                    instance.advance();
                }
                for (Tap t : p.taps()) {
                    assertThat(device.get(t.slot())).as("%s at step %d", t.name(), i).isEqualTo(simulated.get(t.slot()));
                }
                for (Port port : p.ports()) {
                    if (!port.isInput() && port.isOnSystemSheet()) {
                        assertThat(device.get(port.slot())).as("%s at step %d", port.name(), i).isEqualTo(simulated.get(port.slot()));
                    }
                }
            }
        }
    }

    /** A PWM pair wired to a capture and an edge delay terminal of the same device, over frequencies, duty cycles and dead times. */
    @Test
    void edgesAtThePinsMeasureBackWithinOneCount() throws IOException {
        var random = new Random(5);
        for (int i = 0; i < 12; i++) {
            double hertz = Math.rint(2_000 + random.nextDouble() * 60_000);
            double duty = 0.1 + 0.8 * random.nextDouble();
            double dead = Math.rint(random.nextDouble() * 1500) * 1e-9;
            var b = new PartBuilder("p").block("d", "constant", "value=" + duty)
                    .block("leg", "pwm out", "outputs=complementary pair", "frequency=" + hertz + " Hz", "dead time=" + dead + " s",
                    "alignment=" + (i % 2 == 0 ? "edge" : "centre")).block("probe", "capture in", "slowest=3 kHz")
                    .block("gap", "delay in", "longest=5 us").block("f", "tap").block("high", "tap")
                    .block("g", "tap").wire("d.y", "leg.u").wire("probe.f", "f.u").wire("probe.d", "high.u").wire("gap.y", "g.u");
            var system = Review.of(PartBuilder.project(List.of(b.part()), new Wire("p", "leg", "p", "probe"),
                    new Wire("p", "leg", "p", "gap"))).orThrow().system();
            var p = system.program("p").orElseThrow();
            var setup = patched(SWAGE, p);
            try (Arena arena = Arena.ofConfined()) {
                var device = device(setup, arena);
                var conductor = new Conductor(system, Map.of("p", device));
                conductor.tick();
                conductor.tick();
                double count = 1 / 168e6;
                double half = setup.pwm(p.terminal("leg").orElseThrow()).orElseThrow().centre() ? 2 : 1;
                double f = device.get(p.tap("f").orElseThrow().slot());
                assertThat(1 / f).as("period").isCloseTo(1 / hertz, within(count * 1.001));
                assertThat(device.get(p.tap("g").orElseThrow().slot())).as("dead time").isBetween(dead - 1e-15, dead + count * 1.001);
                assertThat(device.get(p.tap("high").orElseThrow().slot()) / f).as("high time")
                        .isCloseTo(duty / hertz - dead, within((1 + half) * count));
                var edges = device.edges(p.terminal("leg").orElseThrow(), 0);
                assertThat(edges.capturedHigh(false) * count).as("edges").isCloseTo(device.get(p.tap("high").orElseThrow().slot()) / f,
                        within(count * 1.001));
                assertThat(edges.capturedPeriod(true)).isEqualTo(edges.capturedPeriod(false));
            }
        }
    }

    @Test
    void outputsRestInTheirSafeStateBeforeTheFirstStepAndWhenStopped() throws IOException {
        var p = sheet("float64").program();
        var setup = patched(SWAGE, p);
        try (Arena arena = Arena.ofConfined()) {
            var device = device(setup, arena);
            assertThat(device.get(p.port("lamp").orElseThrow().slot())).isEqualTo(1);
            assertThat(device.get(p.port("leg low").orElseThrow().slot())).isZero();
            device.set(p.port("volts").orElseThrow().slot(), 0.5);
            device.step();
            assertThat(device.get(p.port("leg low").orElseThrow().slot())).isCloseTo(0.5, within(0.03));
            device.halt();
            device.step();
            assertThat(device.get(p.port("leg low").orElseThrow().slot())).isZero();
            assertThat(device.get(p.port("leg").orElseThrow().slot())).isZero();
            assertThat(device.get(p.port("lamp").orElseThrow().slot())).isEqualTo(1);
        }
    }

    /** A program that takes several of its steps on the small board: the stand-in computes as many as it can, and tells so. */
    @Test
    void aBoardThatIsTooSlowMissesTicks() throws IOException {
        var b = new PartBuilder("slow").sampleTime("100 us").block("v", "analog in").block("h", "health").block("load", "tap")
                .block("missed", "tap").block("n", "tap")
                .block("c", "counter").wire("h.load", "load.u").wire("h.overruns", "missed.u").wire("c.y", "n.u");
        for (int i = 0; i < 12; i++) {
            b.block("s" + i, "function", "f=sin").block("t" + i, "tap").wire(i == 0 ? "v.y" : "s" + (i - 1) + ".y", "s" + i + ".u")
                    .wire("s" + i + ".y", "t" + i + ".u");
        }
        var p = b.program();
        var setup = patched(Boards.shipped().find("clinker16").orElseThrow(), p);
        var processor = new Processor(setup);
        try (Arena arena = Arena.ofConfined()) {
            var device = device(setup, processor, arena);
            for (int i = 0; i < 1000; i++) {
                device.step();
            }
            double load = device.get(p.tap("load").orElseThrow().slot());
            assertThat(load).isGreaterThan(2);
            // As many are computed as fit into 1000 ticks, one more may be under way.
            assertThat((double) processor.missed()).isCloseTo(1000 - 1000 / load, within(2.0));
            assertThat(device.get(p.tap("missed").orElseThrow().slot())).isBetween(processor.missed() - load - 1,
                    (double) processor.missed());
        }
    }

    @Test
    void aWatchdogThatIsNotFedPutsTheDeviceIntoItsSafeState() throws IOException {
        var p = new PartBuilder("dog").block("ok", "digital in").block("dog", "watchdog", "timeout=20 ms")
                .block("on", "constant", "value=0.7").block("leg", "pwm out").block("h", "health")
                .block("cause", "tap").block("n", "tap").block("c", "counter").wire("ok.y", "dog.alive").wire("on.y", "leg.u")
                .wire("h.cause", "cause.u").wire("c.y", "n.u").program();
        var setup = patched(SWAGE, p);
        double timeout = setup.watchdog(p.terminal("dog").orElseThrow()).orElseThrow().seconds();
        assertThat(timeout).isBetween(0.02, 0.021);
        try (Arena arena = Arena.ofConfined()) {
            var device = device(setup, arena);
            var ok = p.port("ok").orElseThrow().slot();
            var leg = p.port("leg").orElseThrow().slot();
            device.set(ok, 1);
            for (int i = 0; i < 100; i++) {
                device.step();
            }
            assertThat(device.get(leg)).isCloseTo(0.7, within(1e-4));
            assertThat(device.get(p.tap("n").orElseThrow().slot())).isGreaterThan(90);
            device.set(ok, 0);
            List<Double> duties = new ArrayList<>();
            for (int i = 0; i < 24; i++) {
                device.step();
                duties.add(device.get(leg));
            }
            assertThat(duties.subList(0, 18)).allMatch(d -> d > 0.6);
            assertThat(duties).contains(0.0);
            device.set(ok, 1);
            device.step();
            assertThat(device.get(p.tap("cause").orElseThrow().slot())).isEqualTo(Processor.WATCHDOG);
            assertThat(device.get(p.tap("n").orElseThrow().slot())).isLessThan(10);
        }
    }
}
