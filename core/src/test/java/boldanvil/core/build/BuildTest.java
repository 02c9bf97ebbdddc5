package boldanvil.core.build;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import boldanvil.core.board.Boards;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Registers;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class BuildTest {
    @TempDir
    private Path folder;

    private final List<String> log = new ArrayList<>();

    private static Project demo() {
        var demo = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        return demo.withRigs(demo.rigs().stream().filter(r -> !r.name().equals("clinker")).toList());
    }

    private static Program controller() {
        return Review.of(demo()).orThrow().system().program("controller").orElseThrow();
    }

    private Image build(Program p) {
        return new Builder(folder, log::add, () -> false).build(p, Sources.of(p));
    }

    @Test
    void theDemoHasNoFindingButThatOneBoardIsTooSlow() {
        assertThat(Review.of(demo()).findings()).isEmpty();
        assertThat(Review.of(ProjectReader.read(Path.of("../demo/larkmere-lock"))).findings()).singleElement().satisfies(f -> {
            assertThat(f.place().text()).isEqualTo("rig clinker · controller");
            assertThat(f.cause()).contains("Clinker 16 is too slow").contains("of its 100 µs");
            assertThat(f.isError()).isFalse();
        });
    }

    @Test
    void aBuildMakesAnImageThatKnowsItself() throws Exception {
        Image image = build(controller());
        assertThat(image.fresh()).isTrue();
        assertThat(image.file()).exists();
        assertThat(image.bytes()).isEqualTo(Files.size(image.file()));
        assertThat(image.sha256()).isEqualTo(Builder.sha256(Files.readAllBytes(image.file())));
        assertThat(image.codeBytes()).isBetween(500L, 50_000L);
        assertThat(image.ramBytes()).isEqualTo(boldanvil.core.program.Layout.of(controller()).size());
        assertThat(log).anyMatch(l -> l.contains("gcc"));
    }

    @Test
    void whatHasNotChangedIsNotCompiledAgain() {
        Image first = build(controller());
        Image second = build(controller());
        assertThat(second.fresh()).isFalse();
        assertThat(second.sha256()).isEqualTo(first.sha256());
    }

    @Test
    void aChangedSheetIsCompiledAgain() {
        var one = new PartBuilder("p").block("c", "constant", "value=1").block("o", "outlet").wire("c.y", "o.u").program();
        var two = new PartBuilder("p").block("c", "constant", "value=2").block("o", "outlet").wire("c.y", "o.u").program();
        String first = build(one).sha256();
        Image second = build(two);
        assertThat(second.fresh()).isTrue();
        assertThat(second.sha256()).isNotEqualTo(first);
    }

    @Test
    void aTamperedImageIsCompiledAgain() throws Exception {
        Image image = build(controller());
        Files.writeString(image.file(), "tampered");
        assertThat(build(controller()).fresh()).isTrue();
    }

    @Test
    void aCancelledBuildIsAFinding() {
        var p = controller();
        assertThatThrownBy(() -> new Builder(folder, log::add, () -> true).build(p, Sources.of(p))).isInstanceOf(FindingException.class)
                .hasMessageContaining("cancelled");
    }

    @Test
    void aCompilerErrorIsAFindingWithItsFirstLine() {
        var broken = new Sources(List.of(new GeneratedFile("p.c", "int x = ;\n", Map.of())), List.of("p.c"));
        var p = new PartBuilder("p").block("c", "constant").block("o", "outlet").wire("c.y", "o.u").program();
        assertThatThrownBy(() -> new Builder(folder, log::add, () -> false).build(p, broken)).isInstanceOf(FindingException.class)
                .hasMessageContaining("build · p.c:1").hasMessageContaining("expected expression");
    }

    @Test
    void aCompilerMessageIsTracedToItsBlock() {
        var file = new GeneratedFile("p.c", "void f(int *x);\nvoid f(int *x)\n{\n    *x = 1;\n    *x = nothing;\n    *x = 2;\n}\n",
                Map.of(4, "p/first", 5, "p/loop/gain", 6, "p/last"));
        var p = new PartBuilder("p").block("c", "constant").block("o", "outlet").wire("c.y", "o.u").program();
        assertThatThrownBy(() -> new Builder(folder, log::add, () -> false).build(p, new Sources(List.of(file), List.of("p.c"))))
                .isInstanceOfSatisfying(FindingException.class, e -> {
            assertThat(e.findings().getFirst().place().text()).isEqualTo("p/loop/gain");
            assertThat(e.findings().getFirst().cause()).contains("p.c:5").contains("nothing");
        });
        assertThat(log).anyMatch(l -> l.contains("p.c:5") && l.endsWith("[p/loop/gain]"));
    }

    @Test
    void onlyTheFileThatChangedIsCompiledAgain() {
        var sources = onBoard();
        var first = new Builder(folder, log::add, () -> false).build(controller(), sources);
        assertThat(first.compiled()).containsExactly("controller.c", "swage32_board.c", "board_io_standin.c");
        var changed = new Sources(sources.files().stream().map(f -> f.name().equals("swage32_board.c")
                ? new GeneratedFile(f.name(), f.text() + "/* changed */\n", f.places()) : f).toList(),
                sources.compiled());
        var second = new Builder(folder, log::add, () -> false).build(controller(), changed);
        assertThat(second.compiled()).containsExactly("swage32_board.c");
        assertThat(second.sources()).isNotEqualTo(first.sources());
        assertThat(new Builder(folder, log::add, () -> false).build(controller(), changed).fresh()).isFalse();
    }

    @Test
    void theStackIsTheDeepestChainOfCalls() {
        assertThat(StackUse.of(List.of("node: { title: \"a.c:f\" label: \"f\\na.c:1:6\\n40 bytes (static)\\n0 dynamic objects\" }\n"
                + "node: { title: \"g\" label: \"g\\na.c:9:6\\n8 bytes (static)\" }\nnode: { title: \"h\" label: \"h\\na.c:9:6\\n100 "
                + "bytes (static)\" }\n"
                + "edge: { sourcename: \"a.c:f\" targetname: \"g\" label: \"a.c:3:3\" }\nedge: { sourcename: \"g\" targetname: \"h\" "
                + "}\nedge: { sourcename: \"g\" targetname: \"g\" }")))
                .isEqualTo(148);
        assertThat(build(controller()).sizes().stack()).isBetween(16L, 4_000L);
    }

    @Test
    void withoutItsCompilerATargetSaysHowToGetIt() {
        var none = new Target("no-such-gcc", "size", "Install it.", List.of(), List.of(), List.of(), ".so");
        assertThatThrownBy(() -> new Builder(folder, none, log::add, () -> false).build(controller(), onBoard()))
                .isInstanceOf(FindingException.class)
                .hasMessageContaining("There is no no-such-gcc").hasMessageContaining("Install it");
    }

    @Test
    void aFolderThatCannotBeWrittenIsAFinding() throws Exception {
        Path file = Files.writeString(folder.resolve("file"), "");
        assertThatThrownBy(() -> Builder.write(List.of(new GeneratedFile("a", "", Map.of())), file)).isInstanceOf(FindingException.class);
    }

    private static BoardSetup setup(Program p) {
        return new BoardSetup(Boards.shipped().find("swage32").orElseThrow(), demo().patches().get("controller"), p);
    }

    private static Sources onBoard() {
        return Sources.of(setup(controller()));
    }

    private static String text(String name) {
        return onBoard().files().stream().filter(f -> f.name().equals(name)).findFirst().orElseThrow().text();
    }

    @Test
    void aDevicePartHasItsBoardFiles() {
        assertThat(onBoard().files()).extracting(GeneratedFile::name).containsExactly("controller.h", "controller.c", "swage32_board.c",
                "board_io.h", "board_io_standin.c", "Makefile", "CMakeLists.txt", "controller.md");
    }

    @Test
    void theBoardFileNamesChannelsAndPins() {
        assertThat(text("swage32_board.c")).contains("board_adc_read(0U, 2U)", "ADC1.2, pin W3", "board_encoder_read(2U)",
                "board_pwm_setup(0U, 1U, 8400U, false, 0U)", "board_pwm_write(0U, 1U", "board_clock_setup(0U, ",
                "board_digital_write(43U, false)", "every 100.0 us");
    }

    @Test
    void theRegistersOfTheStandInLieWhereItsSourceSays() throws Exception {
        Builder.write(onBoard().files(), folder);
        String members = "adc[1][3] dac[0] prescaler[0] period[0] centre[0] phase[0] dead_prescaler[0] dead[0] trip[0] tripped[0] rest[0] "
                + "compare[2][1] encoder[0] encoder_filter[0] "
                + "index_found[0] index_at[0] capture_prescaler[0] capture_period[0] capture_high[0] delay[0] counter[0] pull[0] "
                + "level_in[0] level_out[0] edge[0] clock[0] "
                + "clock_divider[0] load overruns stack_free reset_cause watchdog_prescaler watchdog_reload watchdog";
        var c = new StringBuilder("#include \"board_io_standin.c\"\n#include <stdio.h>\nint main(void) {\n");
        List.of(members.split(" ")).forEach(m -> c.append("printf(\"%d \", (int)(offsetof(struct standin_registers, ").append(m)
                .append(") / 4));\n"));
        Files.writeString(folder.resolve("offsets.c"), c + "return 0; }\n");
        CompiledC.execute(folder, List.of("gcc", "-o", "offsets", "offsets.c"));
        assertThat(CompiledC.execute(folder, List.of("./offsets")).strip().split(" "))
                .containsExactly(IntStream.of(Registers.adc(1, 3), Registers.DAC, Registers.PRESCALER,
                Registers.PERIOD, Registers.CENTRE, Registers.PHASE, Registers.DEAD_PRESCALER, Registers.DEAD, Registers.TRIP,
                Registers.TRIPPED, Registers.REST, Registers.compare(2, 1),
                Registers.ENCODER, Registers.ENCODER_FILTER, Registers.INDEX_FOUND, Registers.INDEX_AT, Registers.CAPTURE_PRESCALER,
                Registers.CAPTURE_PERIOD,
                Registers.CAPTURE_HIGH, Registers.DELAY, Registers.COUNTER, Registers.PULL, Registers.LEVEL_IN, Registers.LEVEL_OUT,
                Registers.EDGE, Registers.CLOCK,
                Registers.CLOCK_DIVIDER, Registers.LOAD, Registers.OVERRUNS, Registers.STACK_FREE, Registers.RESET_CAUSE,
                Registers.WATCHDOG_PRESCALER,
                Registers.WATCHDOG_RELOAD, Registers.WATCHDOG).mapToObj(Integer::toString).toArray(String[]::new));
    }

    @Test
    void everythingForTheBoardCompilesUnderStrictFlagsByMakeAndByCmake() throws Exception {
        Builder.write(onBoard().files(), folder);
        List<String> command = new ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        command.addAll(List.of("-c", "controller.c", "swage32_board.c", "board_io_standin.c"));
        assertThat(CompiledC.execute(folder, command)).isEmpty();
        if (Toolchain.find("make").isPresent()) {
            CompiledC.execute(folder, List.of("make", "-s"));
            assertThat(folder.resolve("controller.so")).exists();
        }
        if (Toolchain.find("cmake").isPresent() && Toolchain.find("make").isPresent()) {
            CompiledC.execute(folder, List.of("cmake", "-S", ".", "-B", "by-cmake"));
            CompiledC.execute(folder, List.of("cmake", "--build", "by-cmake"));
            assertThat(folder.resolve("by-cmake/controller.so")).exists();
        }
    }

    @Test
    void aRigThatNamesSomethingMissingIsAFinding() {
        var p = demo();
        var odd = new Rig("odd", "", Rig.Terminals.IDEAL, Map.of("ghost", new Rig.Place(Rig.Mode.CODE, "")));
        var unpatched = new Rig("board", "", Rig.Terminals.IDEAL, Map.of("panel", new Rig.Place(Rig.Mode.DEVICE, "swage32")));
        var review = Review.of(p.withRigs(List.of(odd, unpatched)));
        assertThat(review.findings()).extracting(f -> f.place().text()).contains("rig odd · ghost", "rig board · panel");
        assertThatThrownBy(() -> review.rig("nope")).isInstanceOf(FindingException.class).hasMessageContaining("odd, board");
        assertThatThrownBy(review::orThrow).isInstanceOf(FindingException.class);
    }

    @Test
    void aControlOrChartWithoutItsSignalIsADoubt() {
        var bench = new BenchLayout(List.of(new BenchLayout.Control(BenchLayout.Shape.DIAL, "Dial", "controller.nothing", "", 0, 1, 0)),
                List.of(new BenchLayout.Chart("Chart", "", List.of("controller.current", "void.x"))));
        assertThat(Review.of(demo().withBench(bench)).findings()).hasSize(2).noneMatch(f -> f.isError());
    }

    @Test
    void aPatchOfAPartThatIsGoneIsADoubt() {
        assertThat(Review.of(demo().withPatch("ghost", new Patch("swage32", List.of()))).findings()).singleElement()
                .satisfies(f -> assertThat(f.isError()).isFalse());
    }

    @Test
    void theLoadIsEstimatedForEachTask() {
        var rows = LoadEstimate.of(setup(controller()));
        assertThat(rows).extracting(LoadEstimate.Row::name).containsExactly("task_100us", "task_1ms");
        assertThat(LoadEstimate.load(rows)).isBetween(0.01, 0.9);
        assertThat(rows.get(1).responseSeconds()).isGreaterThan(rows.get(1).seconds());
        // The fast task waits for the slow one where that has begun.
        assertThat(rows.get(0).responseSeconds()).isEqualTo(rows.get(0).seconds() + rows.get(1).seconds());
    }

    @Test
    void singlePrecisionIsCheaperOnABoardThatHasIt() {
        var b = new PartBuilder("p").block("a", "inlet").block("g", "gain", "k=2").block("o", "outlet").wire("a.y", "g.u")
                .wire("g.y", "o.u");
        double wide = LoadEstimate.load(LoadEstimate.of(setup(b.program())));
        double narrow = LoadEstimate.load(LoadEstimate.of(setup(b.real("float32").program())));
        assertThat(narrow).isLessThan(wide);
    }

    @Test
    void anOverloadedBoardNeverResponds() {
        var b = new PartBuilder("p").sampleTime("2 us").block("a", "sine").block("s", "sine", "sample time=4 us").block("o", "outlet")
                .block("q", "outlet", "sample time=4 us").wire("a.y", "o.u").wire("s.y", "q.u");
        var rows = LoadEstimate.of(setup(b.program()));
        assertThat(rows.getLast().responseSeconds()).isInfinite();
    }

    @Test
    void missingProgramsAreNotFound() {
        assertThat(Toolchain.find("no-such-program-anywhere")).isEmpty();
        assertThatThrownBy(() -> Toolchain.run(List.of("/no/such/program"), folder, () -> false)).isInstanceOf(FindingException.class);
    }

    /** What a project that was downloaded could bring along: an image with a stamp that fits it, but for its key. */
    @Test
    void anImageWithTheStampOfSomebodyElseIsBuiltAnew() throws Exception {
        Image first = build(controller());
        Path stamp = folder.resolve("controller.stamp");
        List<String> lines = Files.readAllLines(stamp);
        Files.writeString(first.file(), "foreign code");
        Files.writeString(stamp, Builder.sha256("foreign code".getBytes(java.nio.charset.StandardCharsets.UTF_8)) + "\n" + lines.get(1)
                + "\n");
        Image second = build(controller());
        assertThat(second.fresh()).isTrue();
        assertThat(second.sha256()).isEqualTo(first.sha256());
        // The image of another part has a key, too, but for other objects.
        Files.copy(second.file(), folder.resolve("kept"));
        Files.writeString(second.file(), "foreign code");
        assertThat(build(controller()).sha256()).isEqualTo(first.sha256());
    }

    @Test
    void anObjectWithTheStampOfSomebodyElseIsCompiledAnew() throws Exception {
        build(controller());
        Path object = folder.resolve("controller.o");
        byte[] whole = Files.readAllBytes(object);
        Path stamp = folder.resolve("controller.o.stamp");
        String tag = Files.readString(stamp);
        Files.write(object, new byte[100]);
        build(controller());
        assertThat(Files.readAllBytes(object)).as("the object has changed, the stamp has not").isEqualTo(whole);
        Files.writeString(stamp, tag.replace(tag.charAt(0), tag.charAt(0) == '0' ? '1' : '0'));
        log.clear();
        build(controller());
        assertThat(log).as("the stamp has changed").anyMatch(l -> l.contains("-c"));
    }

    @Test
    void twoBuildsOfAFolderWaitForEachOther() throws Exception {
        List<String> said = java.util.Collections.synchronizedList(new ArrayList<>());
        var first = FolderLock.wait(folder, said::add, () -> false);
        var images = new java.util.concurrent.CompletableFuture<Image>();
        var second = Thread.ofPlatform().start(() -> images.complete(new Builder(folder, said::add, () -> false)
                .build(controller(), Sources.of(controller()))));
        await().until(() -> said.stream().anyMatch(l -> l.contains("Another build uses")));
        assertThat(images).isNotDone();
        first.close();
        second.join();
        assertThat(images.join().fresh()).isTrue();
        try (var _ = FolderLock.wait(folder, said::add, () -> false)) {
            assertThatThrownBy(() -> FolderLock.wait(folder, said::add, () -> true)).isInstanceOf(FindingException.class)
                    .hasMessageContaining("cancelled while it waited");
        }
    }

    @Test
    void aPartWithoutInputsIsCompiledForAnEmulator() {
        var p = new PartBuilder("p").block("c", "constant", "value=1").block("o", "outlet").wire("c.y", "o.u").program();
        var board = Boards.shipped().find("generic-m4f").orElseThrow();
        String main = Sources.emulated(p, board).files().stream().filter(f -> f.name().equals("loop_main.c")).findFirst().orElseThrow()
                .text();
        assertThat(main).contains("#define INPUT_BYTES 0U").contains("#if INPUT_BYTES > 0U");
        assertThat(boldanvil.core.program.Layout.of(p).inputBytes()).isZero();
        assertThat(boldanvil.core.program.Layout.of(controller()).inputBytes()).isPositive();
    }
}
