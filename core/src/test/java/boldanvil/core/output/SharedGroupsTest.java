package boldanvil.core.output;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.c.CGenerator;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SharedGroupsTest {
    @TempDir
    private Path folder;

    /** Three controllers of the same kind, one with another gain. */
    private static Program three(String runs) {
        var b = new PartBuilder("trio");
        for (String n : new String[] {"a", "b", "c"}) {
            b.block(n, "subsystem", "sheet=loop", "runs=" + runs).block("r" + n, "inlet").block("y" + n, "inlet").block("u" + n, "outlet")
                    .block("t" + n, "tap")
                    .wire("r" + n + ".y", n + ".r").wire("y" + n + ".y", n + ".y").wire(n + ".u", "u" + n + ".u")
                    .wire(n + ".u", "t" + n + ".u");
        }
        b.sheet("loop").block("r", "inlet").block("y", "inlet").block("e", "sum", "signs=+-")
                .block("f", "biquads", "sections=[[1, 0.5, 0, -0.5, 0]]")
                .block("c", "pid", "*kp=2", "ki=3", "low=-5", "high=5").block("m", "moving", "n=4").block("u", "outlet").wire("r.y", "e.u1")
                .wire("y.y", "e.u2")
                .wire("e.y", "f.u").wire("f.y", "c.e").wire("c.y", "m.u").wire("m.y", "u.u");
        return b.program();
    }

    @Test
    void alikeSubsystemsBecomeOneFunctionCalledForEach() {
        String c = CGenerator.C99.generate(three("as one")).get(1).text();
        assertThat(c.split("static void trio_a_shared\\(", -1)).hasSize(2);
        assertThat(c.split("    trio_a_shared\\(", -1)).hasSize(4);
        assertThat(CGenerator.C99.generate(three("always")).get(1).text()).doesNotContain("_shared");
    }

    @Test
    void theyComputeTheSame() {
        var p = three("as one");
        List<String> command = new ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        var printed = CompiledC.run(folder, List.of(p), 50, command);
        assertThat(printed.subList(1, printed.size())).isEqualTo(CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), 50, v -> v));
    }
}
