package boldanvil.core.c;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import boldanvil.core.build.Builder;
import boldanvil.core.build.Toolchain;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.RandomNetworks;
import boldanvil.core.testing.RandomSheets;
import boldanvil.core.testing.Reference;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * One definition, three readings, the same bits: random sheets as Java class, as compiled C and by the reference evaluator.
 * {@code -Dsheets=N} sets how many are compiled; the seed of a failing one is in its name.
 */
class EqualEverywhereTest {
    private static final int TICKS = 60;
    private static final int BATCH = 20;
    private static final long MOST_STATEMENTS = 40_000_000;
    private static final DoubleUnaryOperator PLAIN = v -> v;

    @TempDir
    private Path folder;

    private static List<String> jvm(Program p) {
        return CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), TICKS, PLAIN);
    }

    @Property(tries = 150)
    void theJavaClassDoesWhatTheIrSays(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        Program p = RandomSheets.part(seed, 30).program();
        List<String> said;
        try {
            said = CompiledC.lines(p, new Reference(p, MOST_STATEMENTS), TICKS, PLAIN);
        } catch (Reference.TooLong e) {
            // Loops within loops of a solver that tries short steps; one sheet in thousands.
            return;
        }
        assertThat(jvm(p)).isEqualTo(said);
    }

    @Test
    void compiledCDoesWhatTheJavaClassDoes() {
        int sheets = Integer.getInteger("sheets", 300);
        for (int from = 0; from < sheets; from += BATCH) {
            List<Program> programs = batch(from, Math.min(BATCH, sheets - from));
            List<String> command = new ArrayList<>(List.of("gcc"));
            command.addAll(CompiledC.STRICT);
            compare(programs, CompiledC.run(folder, programs, TICKS, command));
        }
    }

    private static List<Program> batch(int from, int count) {
        List<Program> programs = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            programs.add(RandomSheets.part(7_000 + from + i, 25).program());
        }
        return programs;
    }

    private static void compare(List<Program> programs, List<String> printed) {
        List<String> expected = new ArrayList<>();
        programs.forEach(p -> expected.addAll(jvm(p)));
        assertThat(printed.subList(1, printed.size())).isEqualTo(expected);
    }

    @Test
    void theOptimiserTheOtherCompilerAndTheSanitizersChangeNothing() {
        List<Program> programs = batch(500, 12);
        List<List<String>> commands = new ArrayList<>(List.of(
                List.of("gcc", "-std=c99", "-O0", "-ffp-contract=off"),
                List.of("gcc", "-std=c99", "-O3", "-ffp-contract=off"),
                List.of("gcc", "-std=c99", "-O1", "-g", "-ffp-contract=off", "-fsanitize=undefined,address",
                        "-fno-sanitize-recover=all")));
        if (Toolchain.find("clang").isPresent()) {
            commands.add(List.of("clang", "-std=c99", "-O2", "-ffp-contract=off"));
        }
        for (List<String> command : commands) {
            compare(programs, CompiledC.run(folder, programs, TICKS, command));
        }
    }

    @Test
    void networksAreTheSameEverywhere() {
        List<Program> programs = new ArrayList<>();
        for (int seed = 0; seed < 40; seed++) {
            programs.add(RandomNetworks.part(seed).program());
        }
        for (Program p : programs) {
            assertThat(jvm(p)).isEqualTo(CompiledC.lines(p, new Reference(p), TICKS, PLAIN));
        }
        List<String> command = new ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        compare(programs, CompiledC.run(folder, programs, TICKS, command));
    }

    /** What is recorded decides which slots share memory, so this holds those savings to what comes without them. */
    @Test
    void recordingChangesNothing() {
        for (long seed = 20_000; seed < 20_120; seed++) {
            var plain = outputs(RandomSheets.part(seed, 30).program());
            var recorded = outputs(RandomSheets.recorded(seed, 30).program());
            assertThat(recorded).as("seed %d", seed).isEqualTo(plain);
        }
    }

    private static List<List<Double>> outputs(Program p) {
        Instance instance = JvmCompiler.compile(p).instantiate();
        List<List<Double>> all = new ArrayList<>();
        for (int k = 0; k < TICKS; k++) {
            int i = 0;
            for (var port : p.ports()) {
                if (port.slot().role() == Slot.Role.INPUT) {
                    instance.set(port.slot(), CompiledC.stimulus(i++, k));
                }
            }
            instance.sample();
            instance.step();
            all.add(p.ports().stream().filter(port -> port.slot().role() == Slot.Role.OUTPUT).map(port -> instance.get(port.slot()))
                    .toList());
            instance.advance();
        }
        return all;
    }

    @Test
    void aCheckerOfCFindsNothing() throws Exception {
        assumeTrue(Toolchain.find("cppcheck").isPresent(), "cppcheck is not installed");
        List<GeneratedFile> files = new ArrayList<>();
        batch(900, 4).forEach(p -> files.addAll(CGenerator.C99.generate(p)));
        Builder.write(files, folder);
        assertThat(CompiledC.execute(folder, List.of("cppcheck", "--std=c99", "--enable=warning,performance,portability",
                "--error-exitcode=1", "--quiet", ".")))
                .isEmpty();
    }

    @Test
    void extremeInputsAreTheSameEverywhereInTheJvm() {
        double[] extremes = {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY, 1e300, -1e300, Double.MIN_VALUE, -0.0,
            Integer.MAX_VALUE, Integer.MIN_VALUE};
        for (long seed = 0; seed < 40; seed++) {
            Program p = RandomSheets.part(seed, 30).program();
            for (double e : extremes) {
                DoubleUnaryOperator twist = v -> v > 3 ? e : v;
                assertThat(CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), 20, twist)).as("seed %d, %s", seed, e)
                        .isEqualTo(CompiledC.lines(p, new Reference(p), 20, twist));
            }
        }
    }
}
