package boldanvil.core.tags;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.Finding;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Program;
import boldanvil.core.program.Type;
import boldanvil.core.review.Review;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;

/** Tags bound to the ports of the lock's sequence. */
class BindingTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/lock-sequence"));
    private static final Program SEQUENCE = Review.of(LOCK).system().program("sequence").orElseThrow();
    private static final TagTable TABLE = LOCK.tagTable("sequence");

    private static Line line(String name, String type, String unit, double factor, double offset) {
        return new Line(name, type, "", unit, factor, offset, Direction.BOTH, "", "");
    }

    private static Signal signal(String name) {
        return Signal.of(SEQUENCE).stream().filter(s -> s.name().equals(name)).findFirst().orElseThrow();
    }

    @Property(tries = 300)
    void aScaledSignalComesBackWithinHalfAStep(@ForAll @DoubleRange(min = -3.2, max = 3.2) double metres) {
        var scale = Scale.of(line("level", "INT", "mm", 1, 0));
        Object held = scale.held(metres, TagType.INT);
        assertThat(held).isInstanceOf(Long.class);
        assertThat(scale.signal((Long) held)).isCloseTo(metres, within(0.000_5001));
    }

    @Test
    void unitsWithAZeroOfTheirOwnAreScaled() {
        var scale = Scale.of(line("oil", "INT", "°C", 0.1, -40));
        assertThat(scale.signal(0)).isCloseTo(233.15, within(1e-9));
        assertThat(scale.signal(600)).isCloseTo(293.15, within(1e-9));
        assertThat(scale.held(293.15, TagType.INT)).isEqualTo(600L);
        assertThat(Scale.NONE.held(1e9, TagType.INT)).as("saturates").isEqualTo(32_767L);
        assertThat(Scale.NONE.held(-1, TagType.UINT)).isEqualTo(0L);
    }

    @Test
    void whatHappensToAValueIsSaid() {
        var level = signal("level");
        assertThat(Conversion.of(level, line("a", "INT", "mm", 1, 0)).text()).isEqualTo("steps of 1 mm, −32768 … 32767 mm");
        assertThat(Conversion.of(level, line("a", "REAL", "", 1, 0)).text()).isEqualTo("rounded to 32 bits");
        assertThat(Conversion.of(level, line("a", "LREAL", "", 1, 0)).text()).isEmpty();
        assertThat(Conversion.of(level, line("a", "LREAL", "cm", 1, 0)).text()).isEqualTo("in cm");
        assertThat(Conversion.of(level, line("a", "BOOL", "", 1, 0)).cause()).isEqualTo("The signal is a number, the tag is a BOOL.");
        assertThat(Conversion.of(level, line("a", "INT", "V", 1, 0)).cause()).isEqualTo("The signal is in m, the tag in V.");
        assertThat(Conversion.of(level, line("a", "STRING", "", 1, 0)).isPossible()).isFalse();
        assertThat(Conversion.of(level, line("a", "INT", "mm", 0, 0)).isPossible()).isFalse();
        assertThat(Conversion.of(signal("boat low"), line("a", "INT", "", 1, 0)).text()).isEqualTo("FALSE is 0, TRUE is 1");
    }

    @Test
    void sameNamesAndRulesBindManyAtOnce() {
        List<Line> lines = new ArrayList<>();
        Signal.of(SEQUENCE).forEach(s -> lines.add(line("Cabinet.SEQ_" + s.name().replace("sequence.", "").replace(' ', '_'), s.slot()
                .type() == Type.BOOL ? "BOOL"
                : "LREAL", "", 1, 0)));
        var table = new TagTable(lines, Map.of(), "");
        assertThat(new Binder(Signal.of(SEQUENCE), table).sameNames()).isEmpty();
        var bound = new Binder(Signal.of(SEQUENCE), table).byRule("sequence", "seq_{port}");
        assertThat(bound).containsEntry("boat low", "Cabinet.SEQ_boat_low").containsEntry("level", "Cabinet.SEQ_level");
        assertThat(bound.keySet()).containsAll(SEQUENCE.ports().stream().map(p -> p.name()).toList());
        var own = new TagTable(List.of(line("Boat_LOW", "BOOL", "", 1, 0), line("level", "BOOL", "", 1, 0)), Map.of(), "");
        assertThat(new Binder(Signal.of(SEQUENCE), own).sameNames()).as("a BOOL cannot be the level")
                .isEqualTo(Map.of("boat low", "Boat_LOW"));
    }

    @Test
    void suggestionsFindTheWiringListOfTheCabinet() {
        var found = new Binder(Signal.of(SEQUENCE), TABLE.withBindings(Map.of())).suggest();
        assertThat(found).filteredOn(s -> TABLE.bindings().getOrDefault(s.port(), "").equals(s.tag())).hasSizeGreaterThan(17);
        assertThat(found).extracting(Binder.Suggestion::tag).doesNotHaveDuplicates();
        assertThat(found).extracting(Binder.Suggestion::likeness).isSortedAccordingTo((a, b) -> Double.compare(b, a));
    }

    private static List<Finding> check(TagTable table, String protocol) {
        return TagCheck.check("sequence", SEQUENCE, table, protocol, Surroundings.USUAL);
    }

    private static TagTable bound(String port, String tag) {
        Map<String, String> next = new LinkedHashMap<>(TABLE.bindings());
        next.put(port, tag);
        return TABLE.withBindings(next);
    }

    @Test
    void theDemoHasNoFindings() {
        assertThat(check(TABLE, PartTags.OPC_UA)).isEmpty();
    }

    @Test
    void doublyDrivenUnboundAndMistakenTagsAreFound() {
        assertThat(check(bound("boat low", "B2_BoatHigh"), PartTags.OPC_UA)).singleElement().satisfies(f -> {
            assertThat(f.cause()).isEqualTo("The tag 'B2_BoatHigh' is driven by 'boat low' and 'boat high'.");
            assertThat(f.isError()).isTrue();
        });
        assertThat(check(bound("boat low", "Y5_Fill"), PartTags.OPC_UA)).anyMatch(f -> f.cause().contains("which the PLC itself drives"));
        assertThat(check(bound("fill", "B1_BoatLow"), PartTags.OPC_UA))
                .anyMatch(f -> !f.isError() && f.cause().contains("an input of the PLC"));
        assertThat(check(bound("fill", "gone"), PartTags.OPC_UA)).anyMatch(f -> f.cause().contains("is not among the tags"));
        assertThat(check(bound("bell", "Y5_Fill"), PartTags.OPC_UA)).anyMatch(f -> f.cause().contains("no port, tunable or signal 'bell'"));
        var free = new LinkedHashMap<>(TABLE.bindings());
        free.remove("level");
        assertThat(check(TABLE.withBindings(free), PartTags.OPC_UA)).singleElement().satisfies(f -> {
            assertThat(f.cause()).startsWith("The port 'level' has no tag.");
            assertThat(f.isError()).isFalse();
        });
    }

    @Test
    void theTableIsHeldAgainstTheProgram() {
        List<Line> lines = new ArrayList<>(TABLE.lines());
        lines.replaceAll(l -> l.name().equals("LT1_Level") ? line("LT1_Level", "REAL", "mm", 1, 0)
                : l.name().equals("Y6_Drain") ? line("Y6_Drian", "BOOL", "", 1, 0) : l);
        var findings = check(bound("drain", "Y6_Drian").withLines(lines), PartTags.OPC_UA);
        assertThat(findings).anyMatch(f -> f.cause().equals("'LT1_Level' is REAL in the table and INT in the program."));
        assertThat(findings).anyMatch(f -> f.cause().equals("The program of the PLC has no variable 'Y6_Drian'."));
        assertThat(check(TABLE.withProgram("PROGRAM p x := 1; END_PROGRAM"), PartTags.OPC_UA)).anyMatch(f -> f.cause().startsWith(
                "Program of the PLC: Line 1"));
        assertThat(check(TABLE.withProgram(""), PartTags.OPC_UA)).anyMatch(f -> f.cause().contains("no program of its own"));
    }

    @Test
    void overModbusInputsOfThePlcCannotBeWritten() {
        assertThat(check(TABLE, PartTags.MODBUS)).anyMatch(f -> f.cause()
                .equals("'B1_BoatLow' lies at %IX0.0, which cannot be written over "
                + "Modbus."));
        List<Line> lines = new ArrayList<>(TABLE.lines());
        lines.replaceAll(l -> new Line(l.name(), l.type(), l.address().replace("%I", "%M").replace("%QX", "%MX1").replace("%QW", "%MW1"),
                l.unit(), l.factor(),
                l.offset(), l.direction(), l.rate(), l.comment()));
        assertThat(check(TABLE.withLines(lines), PartTags.MODBUS)).isEmpty();
    }

    @Test
    void ratesAreTimes() {
        var odd = new ArrayList<>(TABLE.lines());
        odd.add(new Line("slow", "INT", "", "", 1, 0, Direction.BOTH, "2 h", ""));
        odd.add(new Line("odd", "INT", "", "", 1, 0, Direction.BOTH, "often", ""));
        assertThat(check(TABLE.withLines(odd), PartTags.OPC_UA)).extracting(f -> f.place().text()).containsExactly("tags · sequence · slow",
                "tags · sequence · odd");
    }

    @Test
    void directAddressesAreRegistersOfTheStandIn() {
        assertThat(TagAddress.of(new Line("a", "BOOL", "%MX2.3"), PartTags.MODBUS).address()).isEqualTo("coil 19");
        assertThat(TagAddress.of(new Line("a", "BOOL", "%IX2.3"), PartTags.MODBUS).address()).isEqualTo("discrete 19");
        assertThat(TagAddress.of(new Line("a", "BOOL", "%QX2.3"), PartTags.MODBUS).address()).isEqualTo("discrete 10019");
        assertThat(TagAddress.of(new Line("a", "DINT", "%MD4"), PartTags.MODBUS).address()).isEqualTo("holding 8 swapped");
        assertThat(TagAddress.of(new Line("a", "INT", "%QW2"), PartTags.MODBUS).address()).isEqualTo("input 10002");
        assertThat(TagAddress.of(new Line("a", "INT", "%QW2"), PartTags.OPC_UA).address()).isEqualTo("ns=2;s=a");
        assertThat(TagAddress.of(new Line("a", "INT", "ns=3;i=77"), PartTags.OPC_UA).address()).isEqualTo("ns=3;i=77");
    }
}
