package boldanvil.core.edit;

import static boldanvil.core.edit.GroupedSheet.program;
import static boldanvil.core.edit.GroupedSheet.values;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.c.CGenerator;
import boldanvil.core.compare.ProjectDiff;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.OwnBlock.Parameter;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ClipText;
import boldanvil.core.files.DiskState;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.UserBlocks;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.review.Review;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Values;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import boldanvil.core.user.UserFolder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OwnBlocksTest {
    private static final SheetRef MAIN = new SheetRef("p", "main");

    @TempDir
    private Path folder;

    /** A subsystem with a gain and a limit, used twice. */
    private static Project twoLimiters() {
        var part = new PartBuilder("p").block("a", "inlet").block("b", "inlet").block("left", "subsystem", "sheet=body")
                .block("right", "subsystem", "sheet=body").block("ya", "outlet").block("yb", "outlet")
                .wire("a.y", "left.u").wire("b.y", "right.u").wire("left.y", "ya.u").wire("right.y", "yb.u")
                .sheet("body").block("u", "inlet").block("amplify", "gain", "*k=Kp").block("limit", "saturation", "low=-Imax", "high=Imax")
                .block("y", "outlet").wire("u.y", "amplify.u").wire("amplify.y", "limit.u").wire("limit.y", "y.u").part();
        return PartBuilder.project(List.of(part)).withVariables(List.of(new Variable("Kp", "2", "proportional gain"),
                new Variable("Imax", "5 A", "", "A", ""), new Variable("other", "1", "")));
    }

    private static OwnBlock about(String id, Project p, List<Variable> parameters) {
        return new OwnBlock(id, "Limited gain", "y = Kp u within a limit.", "gain {Kp}", "min(max(Kp * u, -Imax / 1 A), Imax / 1 A)", "-5",
                "5", parameters.stream().map(v -> OwnUses.parameter(p, v)).toList(), List.of(Sheet.empty("")));
    }

    private static Project kept() {
        Project p = twoLimiters();
        return OwnUses.keep(p, MAIN, "p", "left", about("limited", p, OwnUses.candidates(p, MAIN, "left")));
    }

    private static Project set(Project p, String use, String setting, String text) {
        return p.change(MAIN, s -> s.change(use, b -> b.with(setting, text)));
    }

    private static Stepper stepper(Project p) {
        var program = program(p);
        return new Stepper(program, JvmCompiler.compile(program).instantiate());
    }

    @Test
    void variablesNamedWithinCanBecomeParameters() {
        Project p = twoLimiters();
        assertThat(OwnUses.candidates(p, MAIN, "left")).extracting(Variable::name).containsExactly("Kp", "Imax");
        assertThat(OwnUses.parameter(p, p.variables().get(1))).isEqualTo(new Parameter("Imax", "5 A", "A", ""));
    }

    @Test
    void everySubsystemWithTheSheetBecomesAUseAndComputesTheSame() {
        Project p = kept();
        assertThat(p.parts().getFirst().sheets()).extracting(Sheet::id).containsExactly("main");
        assertThat(OwnUses.of(p, "limited")).containsExactly("p/left", "p/right");
        assertThat(values(p)).isEqualTo(values(twoLimiters()));
    }

    @Test
    void eachUseHasValuesOfItsOwnInTheUnitOfTheParameter() {
        Project p = set(set(kept(), "left", "Imax", "500 mA"), "right", "Kp", "Kp * 10");
        var s = stepper(set(p, "right", "Imax", "7")).set("a", 3).set("b", 0.5).step();
        assertThat(s.out("ya")).isEqualTo(0.5);
        assertThat(s.out("yb")).isEqualTo(7);
        assertThat(stepper(p).set("b", 0.2).step().out("yb")).isEqualTo(4);
    }

    @Test
    void aParameterHidesAVariableOfItsName() {
        Project p = set(kept(), "left", "Kp", "3").withVariables(List.of(new Variable("Kp", "100", ""), new Variable("Imax", "5 A", "")));
        assertThat(stepper(p).set("a", 1).step().out("ya")).isEqualTo(3);
        // The default of the use on the right is the variable.
        assertThat(stepper(p).set("b", 0.01).step().out("yb")).isEqualTo(1);
    }

    @Test
    void aSampleTimeMayBeAParameter() {
        Project p = kept();
        OwnBlock own = p.library().find("limited").orElseThrow();
        List<Parameter> more = new ArrayList<>(own.parameters());
        more.add(new Parameter("Ts", "2 ms", "s", ""));
        Project timed = OwnUses.define(p, own.withParameters(more)).change(new SheetRef("p", "@limited"),
                s -> s.withBlocks(s.blocks().stream().map(b -> b.with(Settings.SAMPLE_TIME, "2 * Ts")).toList()));
        var program = program(set(timed, "left", "Ts", "5 ms"));
        assertThat(program.tasks()).extracting(t -> t.periodTicks() * program.tickNanos()).contains(4_000_000L, 10_000_000L);
    }

    @Test
    void whatIsWrongWithAValueIsFoundAtTheUse() {
        var wrong = Review.of(set(set(kept(), "left", "Imax", "5 V"), "right", "Kp", "missing * 2")).findings().stream()
                .filter(Finding::isError).toList();
        assertThat(wrong).hasSize(2).anyMatch(f -> f.place().text().equals("p/left · Imax")
                && f.cause().contains("a current (A) is needed"))
                .anyMatch(f -> f.place().text().equals("p/right · Kp") && f.cause().contains("missing"));
    }

    @Property(tries = 40)
    void keptAndDetachedItComputesTheSameBits(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        var random = GroupedSheet.of(seed);
        if (random.isEmpty()) {
            return;
        }
        var ref = random.get().ref();
        String part = ref.part();
        String group = random.get().group();
        List<String> expected = values(random.get().before());
        Project kept = OwnUses.keep(random.get().grouped(), ref, part, group, new OwnBlock("own", "Own", "", "", "", "", "", List.of(),
                List.of(Sheet.empty(""))));
        assertThat(values(kept)).isEqualTo(expected);
        Project detached = OwnUses.detach(kept, ref, part, group);
        assertThat(values(detached)).isEqualTo(expected);
        assertThat(OwnUses.of(detached, "own")).isEmpty();
        assertThat(OwnUses.remove(detached, "own").library()).isEqualTo(Library.EMPTY);
    }

    @Test
    void aDetachedUseHasItsValuesInItsFormulas() {
        Project p = OwnUses.detach(set(set(kept(), "left", "Imax", "0.5"), "left", "Kp", "1 + 3"), MAIN, "p", "left");
        Block left = p.sheet(MAIN).flatMap(s -> s.block("left")).orElseThrow();
        assertThat(left.settings()).containsOnlyKeys("sheet");
        Sheet own = p.sheet(new SheetRef("p", left.inner())).orElseThrow();
        assertThat(own.block("amplify").orElseThrow().settings()).containsEntry("k", "(1 + 3)");
        assertThat(own.block("limit").orElseThrow().settings()).containsEntry("low", "-(0.5 A)").containsEntry("high", "(0.5 A)");
        assertThat(stepper(p).set("a", 0.1).step().out("ya")).isEqualTo(0.4);
        assertThat(stepper(p).set("a", 1).step().out("ya")).isEqualTo(0.5);
        assertThat(OwnUses.of(p, "limited")).containsExactly("p/right");
        assertThatThrownBy(() -> OwnUses.remove(p, "limited")).isInstanceOf(FindingException.class).hasMessageContaining("in use");
    }

    @Test
    void alikeUsesThatRunAsOneShareAFunction() {
        var b = new PartBuilder("p").block("in", "inlet").block("left", "subsystem", "sheet=loop", "runs=as one")
                .block("right", "subsystem", "sheet=loop", "runs=as one").block("ya", "outlet").block("yb", "outlet")
                .wire("in.y", "left.e").wire("in.y", "right.e").wire("left.u", "ya.u").wire("right.u", "yb.u")
                .sheet("loop").block("e", "inlet").block("f", "biquads", "sections=[[1, 0.5, 0, -0.5, 0]]")
                .block("c", "pid", "*kp=2", "ki=3", "low=-5", "high=5").block("m", "moving", "n=4").block("u", "outlet")
                .wire("e.y", "f.u").wire("f.y", "c.e").wire("c.y", "m.u").wire("m.y", "u.u");
        Project plain = PartBuilder.project(List.of(b.part()));
        Project p = OwnUses.keep(plain, MAIN, "p", "left", about("loop", plain, List.of()));
        assertThat(CGenerator.C99.generate(program(p)).get(1).text().split("static void p_left_shared\\(", -1)).hasSize(2);
    }

    @Test
    void renamedVariablesLeaveParametersAlone() {
        Project p = Renaming.variable(kept(), "Kp", "gain");
        assertThat(p.sheet(MAIN).flatMap(s -> s.block("left")).orElseThrow().settings()).containsEntry("Kp", "gain");
        assertThat(p.sheet(new SheetRef("p", "@limited")).flatMap(s -> s.block("amplify")).orElseThrow().settings())
                .containsEntry("k", "Kp");
        assertThat(p.library().find("limited").flatMap(b -> b.parameter("Kp")).orElseThrow().value()).isEqualTo("2");
        assertThat(Usages.variable(p, "gain")).extracting(u -> u.place().text()).containsExactly("p/left · Kp", "p/right · Kp");
        assertThat(values(p)).isEqualTo(values(kept()));
    }

    @Test
    void aRenamedInletKeepsTheWiresOfAllUses() {
        Project p = Renaming.block(kept(), new SheetRef("p", "@limited"), "u", "wanted");
        assertThat(p.sheet(MAIN).orElseThrow().wires()).filteredOn(w -> w.toPort().equals("wanted")).hasSize(2);
        assertThat(values(p)).isEqualTo(values(kept()));
    }

    @Test
    void textsInOwnBlocksAreFoundAtAUse() {
        assertThat(new Search("amplify", true, true).in(kept())).extracting(h -> h.place().text()).containsExactly("p/left/amplify");
    }

    @Test
    void aChangeOfTheSheetReachesAllUses() {
        Project p = kept().change(new SheetRef("p", "@limited"), s -> s.change("amplify", b -> b.with("k", "-Kp")));
        var s = stepper(p).set("a", 1).set("b", 1).step();
        assertThat(s.out("ya")).isEqualTo(-2);
        assertThat(s.out("yb")).isEqualTo(-2);
        assertThat(ProjectDiff.of(kept(), p)).singleElement().satisfies(c -> {
            assertThat(c.text()).isEqualTo("k: Kp → -Kp");
            assertThat(c.sheet().sheet()).isEqualTo("@limited");
        });
        assertThat(ProjectDiff.of(twoLimiters(), kept())).anyMatch(c -> c.text().equals("own block limited added: Limited gain"));
    }

    @Test
    void anotherDefinitionDropsTheValuesOfFormerParameters() {
        Project p = kept();
        OwnBlock own = p.library().find("limited").orElseThrow();
        Project next = OwnUses.define(p, own.withParameters(own.parameters().subList(0, 1)));
        assertThat(next.sheet(MAIN).flatMap(s -> s.block("left")).orElseThrow().settings()).containsOnlyKeys("sheet", "Kp");
    }

    @Test
    void itsPlateShowsTextAndCurveFromTheValuesOfTheUse() {
        Project p = set(kept(), "left", "Imax", "2");
        Block left = p.sheet(MAIN).flatMap(s -> s.block("left")).orElseThrow();
        var type = OwnBlocks.type(p.library(), left).orElseThrow();
        assertThat(type.title()).isEqualTo("Limited gain");
        assertThat(type.summary(new Settings(type, left.settings()))).isEqualTo("gain Kp");
        Map<String, Quantity> variables = Variables.resolve(p.variableTexts()).values();
        assertThat(type.picture(new Values(new Settings(type, left.settings()), variables)).shapes()).hasSize(3);
        var missing = new Values(new Settings(type, Map.of("Kp", "nowhere")), variables);
        assertThat(type.picture(missing).isEmpty()).isTrue();
    }

    @Test
    void aProjectIsSavedAndReadWithItsOwnBlocks() {
        ProjectWriter.write(kept(), folder);
        Project read = ProjectReader.read(folder);
        assertThat(read.library()).isEqualTo(kept().library());
        assertThat(ProjectWriter.files(read)).isEqualTo(ProjectWriter.files(kept())).containsKey("blocks/limited.json");
        assertThat(values(read)).isEqualTo(values(kept()));
    }

    @Test
    void aChangeOfItsFileByOthersIsSeen() throws IOException {
        ProjectWriter.write(kept(), folder);
        DiskState before = DiskState.of(folder);
        Files.writeString(folder.resolve("blocks/limited.json"), "{}");
        assertThat(DiskState.of(folder)).isNotEqualTo(before);
    }

    @Test
    void aMissingFileIsAFindingAtEachUse() throws IOException {
        ProjectWriter.write(kept(), folder);
        Files.delete(folder.resolve("blocks/limited.json"));
        assertThat(Review.of(ProjectReader.read(folder)).findings().stream().filter(Finding::isError)).hasSize(2)
                .allMatch(f -> f.cause().equals("The project has no own block 'limited'.") && f.cure().contains("blocks/limited.json"));
    }

    @Test
    void brokenFilesOfOwnBlocksAreFindings() throws IOException {
        ProjectWriter.write(kept(), folder);
        Path file = folder.resolve("blocks/limited.json");
        String good = Files.readString(file);
        for (String bad : new String[] {good.replace("\"format\": 1", "\"format\": 2"), good.replace("\"@limited\"", "\"body\""),
            good.replace("\"block\": \"limited\"", "\"block\": \"other\""), good.replace("\"kind\": \"block\"", "\"kind\": \"plant\""),
            good.substring(0, good.length() / 2), good.replace("\"name\": \"Kp\"", "\"name\": \"sheet\"")}) {
            Files.writeString(file, bad);
            assertThatThrownBy(() -> ProjectReader.read(folder)).isInstanceOfSatisfying(FindingException.class,
                    e -> assertThat(e.findings().getFirst().cure()).isNotBlank());
        }
    }

    @Test
    void aBlockThatContainsItselfIsAFindingAndCannotBePutThere() {
        Project p = kept();
        OwnBlock own = p.library().find("limited").orElseThrow();
        var inside = new SheetRef("p", "@limited");
        var use = Block.of("again", "subsystem", "again", 0, 0, Map.of());
        assertThatThrownBy(() -> OwnUses.add(p, inside, own, p.library(), use)).isInstanceOf(FindingException.class)
                .hasMessageContaining("contain itself");
        Project forced = p.change(inside, s -> s.add(use.with("sheet", "@limited")));
        assertThat(Review.of(forced).findings()).anyMatch(f -> f.cause().contains("contains itself: @limited → @limited"));
        // However often it does, its sheet is entered once on each way.
        Project often = p.change(inside, s -> {
            for (int i = 0; i < 30; i++) {
                s = s.add(Block.of("again" + i, "subsystem", "again " + i, 0, 0, Map.of("sheet", "@limited")));
            }
            return s;
        });
        assertThat(Paths.of(often).get(inside)).hasSameSizeAs(Paths.of(p).get(inside));
        // A round of two is refused as well.
        OwnBlock other = new OwnBlock("other", "Other", "", "", "", "", "", List.of(), List.of(Sheet.empty("@other").add(use.with("sheet",
                "@limited"))));
        Project two = p.withLibrary(p.library().with(other));
        assertThatThrownBy(() -> OwnUses.add(two, inside, other, two.library(), use)).isInstanceOf(FindingException.class);
    }

    @Test
    void copiesBringTheirOwnBlocksToAnotherProject() {
        String text = ClipText.write(Clip.of(kept(), MAIN, Set.of("left"), Set.of()).part());
        Project empty = PartBuilder.project(List.of(new PartBuilder("q").part()));
        var ref = new SheetRef("q", "main");
        Project pasted = Clip.of(ClipText.read(text)).on(empty, ref, 0, 0, new HashSet<>());
        assertThat(pasted.library()).isEqualTo(kept().library());
        Project again = Clip.of(ClipText.read(text)).on(pasted, ref, 0, 0, new HashSet<>());
        assertThat(again.library()).isEqualTo(kept().library());
        assertThat(OwnUses.of(again, "limited")).containsExactly("q/left", "q/left 2");
    }

    @Test
    void aBlockOfAnotherKindWithTheSameIdComesAlongUnderANewOne() {
        String text = ClipText.write(Clip.of(kept(), MAIN, Set.of("left"), Set.of()).part());
        Project changed = kept().change(new SheetRef("p", "@limited"), s -> s.change("amplify", b -> b.with("k", "-Kp")));
        Project pasted = Clip.of(ClipText.read(text)).on(changed, MAIN, 0, 0, new HashSet<>());
        assertThat(pasted.library().blocks()).containsOnlyKeys("limited", "limited_2");
        assertThat(OwnUses.of(pasted, "limited_2")).containsExactly("p/left 2");
        assertThat(pasted.sheet(new SheetRef("p", "@limited_2")).flatMap(s -> s.block("amplify")).orElseThrow().settings())
                .containsEntry("k", "Kp");
    }

    @Test
    void theFolderOfTheUserKeepsBlocksForAllProjects() throws IOException {
        String before = System.getProperty(UserFolder.PROPERTY);
        System.setProperty(UserFolder.PROPERTY, folder.resolve("state").toString());
        try {
            UserBlocks.save(kept().library().closure("limited"));
            List<Finding> broken = new ArrayList<>();
            Library library = UserBlocks.read(broken::add);
            assertThat(library).isEqualTo(kept().library());
            Project empty = PartBuilder.project(List.of(new PartBuilder("p").part()));
            Project used = OwnUses.add(empty, MAIN, library.find("limited").orElseThrow(), library,
                    Block.of("b1", "subsystem", "drive", 0, 0,
                    Map.of()));
            assertThat(used.library()).isEqualTo(library);
            Files.writeString(folder.resolve("state/blocks/broken.json"), "{");
            assertThat(UserBlocks.read(broken::add)).isEqualTo(library);
            assertThat(broken).singleElement().satisfies(f -> assertThat(f.place().text()).contains("broken.json"));
        } finally {
            if (before == null) {
                System.clearProperty(UserFolder.PROPERTY);
            } else {
                System.setProperty(UserFolder.PROPERTY, before);
            }
        }
    }
}
