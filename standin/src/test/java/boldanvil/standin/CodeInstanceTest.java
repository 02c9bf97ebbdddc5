package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.build.Builder;
import boldanvil.core.build.Sources;
import boldanvil.core.finding.FindingException;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.lang.foreign.Arena;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CodeInstanceTest {
    @TempDir
    private Path folder;

    private Path image(Program p) {
        return new Builder(folder, _ -> { }, () -> false).build(p, Sources.of(p)).file();
    }

    @Test
    void loadedCodeDoesWhatTheJavaClassDoes() {
        for (long seed = 40; seed < 48; seed++) {
            Program p = RandomSheets.part(seed, 25).program();
            try (Arena arena = Arena.ofConfined()) {
                var code = new CodeInstance(image(p), p, arena);
                assertThat(CompiledC.lines(p, code, 50, v -> v)).as("seed %d", seed)
                        .isEqualTo(CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), 50, v -> v));
            }
        }
    }

    @Test
    void everySlotCanBeWrittenAndRead() {
        Program p = RandomSheets.part(3, 30).program();
        try (Arena arena = Arena.ofConfined()) {
            var code = new CodeInstance(image(p), p, arena);
            for (Slot s : p.slots()) {
                code.set(s, 1);
                assertThat(code.get(s)).as(s.name()).isEqualTo(1);
            }
            code.init();
            for (Slot s : p.slots()) {
                assertThat(code.get(s)).as(s.name()).isEqualTo(s.initial());
            }
        }
    }

    @Test
    void twoInstancesOfOneImageShareNothing() {
        Program p = new PartBuilder("c").block("n", "counter").block("o", "outlet").wire("n.y", "o.u").program();
        Slot out = p.port("o").orElseThrow().slot();
        try (Arena arena = Arena.ofConfined()) {
            Path image = image(p);
            var one = new CodeInstance(image, p, arena);
            var two = new CodeInstance(image, p, arena);
            one.step();
            one.step();
            two.step();
            assertThat(one.get(out)).isEqualTo(1);
            assertThat(two.get(out)).isZero();
        }
    }

    @Test
    void whatIsNoImageIsAFinding() throws Exception {
        Program p = new PartBuilder("c").block("n", "counter").block("o", "outlet").wire("n.y", "o.u").program();
        Path junk = Files.writeString(folder.resolve("junk.so"), "no library");
        try (Arena arena = Arena.ofConfined()) {
            assertThatThrownBy(() -> new CodeInstance(junk, p, arena)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("cannot be loaded");
            Program other = new PartBuilder("other").block("n", "counter").block("o", "outlet").wire("n.y", "o.u").program();
            Path image = image(p);
            assertThatThrownBy(() -> new CodeInstance(image, other, arena)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("lacks the function other_init");
        }
    }
}
