package boldanvil.core.build;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Part;
import boldanvil.core.lower.PartLowering;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Names and titles that mean something to a compiler, a make tool or a terminal. */
class HostileNamesTest {
    private static final List<String> NAMES = List.of("INT16_MAX", "FP_NAN", "HUGE_VAL", "UINT32_C", "NULL", "NAN", "INFINITY", "M_PI",
            "double_t", "int32_t", "size_t", "bool", "true",
            "I", "fmod", "rint", "memcpy", "errno", "offsetof", "while", "switch", "auto", "asm", "inline", "c", "in", "out", "sig",
            "state", "tune", "fault", "init", "__FILE__",
            "*/ int main(void) { } /*", "x\ny", "x\r\n#define y", "$(shell touch pwned)", "`touch pwned`", "${HOME}", "\\", "tail\\",
            "??/", "'\"", "%s%n", "\u202Eabc", "\u2066x", "\uD800",
            "a\uDC00b", "\u0000", "\u2028", "ü", "名", "", " ", "0", "9x", "-", "_", "a".repeat(300), "linux", "unix", "i386", "near",
            "far", "y0", "j1", "gamma");

    private static final List<String> GCC = Stream.concat(Stream.of("gcc"), CompiledC.STRICT.stream()).toList();

    @TempDir
    private Path folder;

    private static Part titled(PartBuilder b, String title) {
        Part p = b.part();
        return new Part(p.id(), title, p.kind(), p.sampleTime(), p.step(), p.solver(), p.real(), 0, 0, p.sheets());
    }

    @Test
    void everyNameOfABlockCompilesOrIsRefused() {
        List<Program> programs = new ArrayList<>();
        for (int i = 0; i < NAMES.size(); i++) {
            String name = NAMES.get(i);
            var part = new PartBuilder("p" + i).block(name + " in", "inlet", "unit=" + name).block(name, "tunable", "unit=" + name)
                    .block("k", "gain", "k=2").block(name + "d", "delay")
                    .block("sum", "sum").block("y", "outlet", "unit=" + name).block("t", "tap", "unit=" + name).wire(name + " in.y", "k.u")
                    .wire(name + ".y", "sum.u1")
                    .wire("k.y", name + "d.u").wire(name + "d.y", "sum.u2").wire("sum.y", "y.u").wire("sum.y", "t.u");
            PartLowering.lower(titled(part, name), Map.of()).program().ifPresent(programs::add);
        }
        assertThat(programs).hasSizeGreaterThan(NAMES.size() - 8);
        CompiledC.run(folder, programs, 2, GCC);
        assertThat(folder.resolve("pwned")).doesNotExist();
    }

    @Test
    void everyTitleLeavesTheMakefileAlone() throws Exception {
        for (int i = 0; i < NAMES.size(); i++) {
            var part = new PartBuilder("p").block("u", "inlet").block("y", "outlet").wire("u.y", "y.u");
            Program p = PartLowering.lower(titled(part, NAMES.get(i) + "\n\ttouch pwned\nall: $(shell touch pwned)"), Map.of()).program()
                    .orElseThrow();
            Path place = Files.createDirectories(folder.resolve("t" + i));
            Builder.write(Sources.of(p).files(), place);
            var lines = Files.readAllLines(place.resolve("Makefile"));
            assertThat(lines).as(NAMES.get(i)).hasSameSizeAs(Sources.of(part.program()).files().stream()
                    .filter(f -> f.name().equals("Makefile")).findFirst().orElseThrow().text().lines().toList());
            CompiledC.execute(place, List.of("make", "-n"));
            assertThat(place.resolve("pwned")).doesNotExist();
        }
    }

    @Test
    void aPartNamedLikeATypeOrAFileIsRefused() {
        for (String id : List.of("double", "uint8", "int32", "size", "float", "board_io", "board_swage32", "ba", "ba_x", "standin_x",
                "loop_main", "image", "main")) {
            var part = new PartBuilder(id).block("u", "inlet").block("y", "outlet").wire("u.y", "y.u").part();
            assertThat(Review.of(PartBuilder.project(List.of(part))).findings()).as(id)
                    .anyMatch(x -> x.isError() && x.cause().contains("name of the C language or of a file"));
        }
        for (String id : List.of("test", "clean", "all", "while", "int", "c", "math", "string")) {
            var p = new PartBuilder(id).block("u", "inlet").block("y", "outlet").wire("u.y", "y.u").program();
            CompiledC.run(folder, List.of(p), 1, GCC);
        }
    }
}
