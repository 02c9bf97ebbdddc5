package boldanvil.core.iec;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.finding.FindingException;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Type;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.RandomSheets;
import boldanvil.core.text.Mistake;
import boldanvil.core.text.PlcProgram;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Structured Text of a part, read back, compiled and run beside the Java class of the part. */
class StGeneratorTest {
    private static final int TICKS = 40;

    /** What the ports of a part are, tick by tick, as the Java class computes it. */
    private static List<List<String>> jvm(Program p) {
        Instance instance = JvmCompiler.compile(p).instantiate();
        List<List<String>> all = new ArrayList<>();
        for (int k = 0; k < TICKS; k++) {
            int i = 0;
            for (Port port : p.ports()) {
                if (port.isInput()) {
                    instance.set(port.slot(), CompiledC.stimulus(i++, k));
                }
            }
            instance.sample();
            instance.step();
            all.add(p.ports().stream().filter(port -> !port.isInput()).map(port -> bits(port.slot().type(), instance.get(port.slot())))
                    .toList());
            instance.advance();
        }
        return all;
    }

    private static String bits(Type t, double v) {
        return t.isFloat() ? Long.toHexString(Double.doubleToLongBits(v)) : Long.toString((long) v);
    }

    private static List<List<String>> text(Program p, String text) {
        var around = new PlcProgram.Surroundings(16, 16, 16, p.tickNanos(), 1_000_000_000);
        var plc = PlcProgram.of(text, around);
        assertThat(plc.mistakes().stream().filter(m -> !m.isWarning()).map(Mistake::located).toList()).as(text).isEmpty();
        var runtime = new PlcRuntime(around);
        runtime.watchdog(Long.MAX_VALUE);
        runtime.load(plc);
        runtime.run();
        var paths = StGenerator.portPaths(p);
        List<List<String>> all = new ArrayList<>();
        for (int k = 0; k < TICKS; k++) {
            int i = 0;
            for (Port port : p.ports()) {
                if (port.isInput()) {
                    double v = port.slot().type().convert(CompiledC.stimulus(i++, k));
                    runtime.write(paths.get(port.name()), port.slot().type() == Type.BOOL ? (Object) (v != 0) : (Object) v);
                }
            }
            runtime.scanOnce();
            assertThat(runtime.reason()).isEmpty();
            all.add(p.ports().stream().filter(port -> !port.isInput()).map(port -> {
                Object v = runtime.read(paths.get(port.name()));
                return bits(port.slot().type(), v instanceof Boolean b ? b ? 1 : 0 : ((Number) v).doubleValue());
            }).toList());
        }
        return all;
    }

    @ParameterizedTest
    @CsvSource({"lock-sequence, sequence", "lift-platform, controller", "level-hold, controller", "paddle-modes, modes", "workboat, helm",
        "paddle-modes, controller"})
    void theTextOfADemoDoesWhatItsSheetDoes(String demo, String part) {
        var project = ProjectReader.read(Path.of("../demo/" + demo));
        var found = LoweredSystem.of(project).program(part);
        if (found.isPresent()) {
            String text = StGenerator.of(found.get(), java.util.Map.of()).text();
            assertThat(text(found.get(), text)).isEqualTo(jvm(found.get()));
        }
    }

    @Test
    void theTextNamesBlocksAndTakesAddresses() {
        Program p = LoweredSystem.of(ProjectReader.read(Path.of("../demo/lock-sequence"))).program("sequence").orElseThrow();
        String text = StGenerator.of(p, java.util.Map.of("lower open", "%IX0.3")).text();
        assertThat(text).contains("lower_open AT %IX0.3 : BOOL;", "(* sequence/interlocks *)",
                "TASK base(INTERVAL := T#10ms, PRIORITY := 1);",
                "PROGRAM sequence");
    }

    @Test
    void theTextDoesWhatTheJavaClassDoes() {
        int written = 0;
        int divided = 0;
        int charts = 0;
        for (long seed = 30_000; seed < 30_000 + Integer.getInteger("sheets", 150); seed++) {
            Program p = RandomSheets.part(seed, 25).program();
            String text;
            try {
                text = StGenerator.of(p, java.util.Map.of()).text();
            } catch (FindingException e) {
                // A block that sends the bits of 64-bit numbers; the finding says so.
                continue;
            }
            written++;
            divided += text.contains("SINGLE := due_") ? 1 : 0;
            charts += text.contains("INITIAL_STEP") ? 1 : 0;
            assertThat(text(p, text)).as("seed %d%n%s", seed, text).isEqualTo(jvm(p));
        }
        assertThat(written).isGreaterThan(Integer.getInteger("sheets", 150) * 3 / 4);
        assertThat(divided).as("sheets of several tasks").isGreaterThan(Integer.getInteger("sheets", 150) / 50);
        assertThat(charts).as("sheets with charts").isGreaterThan(Integer.getInteger("sheets", 150) / 10);
    }
}
