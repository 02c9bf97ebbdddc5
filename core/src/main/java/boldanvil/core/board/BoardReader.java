package boldanvil.core.board;

import boldanvil.core.files.JsonFile;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Reads a board file and checks what its schema cannot say. */
final class BoardReader {
    private static final JsonMapper MAPPER = JsonMapper.builder().disable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

    private final String text;
    private final String place;
    private final Board board;
    private final List<Finding> wrong = new ArrayList<>();

    private BoardReader(String text, String place, Board board) {
        this.text = text;
        this.place = place;
        this.board = board;
    }

    /**
     * @param place how findings name the file
     * @throws FindingException with everything that is wrong, each with its line where that is known
     */
    static Board read(String text, String place) {
        var reader = new BoardReader(text, place, board(JsonFile.read(text, place, "board"), place));
        reader.check();
        if (!reader.wrong.isEmpty()) {
            throw new FindingException(reader.wrong);
        }
        return reader.board;
    }

    private static Board board(JsonNode n, String place) {
        try {
            return MAPPER.treeToValue(n, Board.class);
        } catch (JacksonException e) {
            throw FindingException.of(place, "A value of the board cannot be used: " + e.getOriginalMessage().lines().findFirst()
                    .orElse("") + ".",
                    "Correct it; whole numbers have at most nine digits.");
        }
    }

    /** A board that ships with the program; tests have checked its file. */
    static Board readOwn(String text) {
        return MAPPER.treeToValue(JsonFile.readOwn(text), Board.class);
    }

    private void wrong(String pointer, String cause, String cure) {
        int line = JsonFile.lineOf(text, pointer);
        wrong.add(Finding.error(place + (line > 0 ? ":" + line : ""), cause, cure));
    }

    private void check() {
        pins();
        clocks();
        units();
        target();
        for (int i = 0; i < board.timers().size(); i++) {
            timer(board.timers().get(i), "/timers/" + i);
        }
        for (int i = 0; i < board.converters().size(); i++) {
            var c = board.converters().get(i);
            channels(c.name(), c.channels(), "/converters/" + i);
        }
        ways("analogOutputs", board.analogOutputs().stream().map(Board.AnalogOutput::pins).toList(), 1);
        ways("buses", board.buses().stream().map(Board.Bus::pins).toList(), 0);
        ways("cans", board.cans().stream().map(Board.Can::pins).toList(), 2);
        for (int i = 0; i < board.serialPorts().size(); i++) {
            known("/serialPorts/" + i + "/out", board.serialPorts().get(i).out());
            known("/serialPorts/" + i + "/in", board.serialPorts().get(i).in());
        }
    }

    private void target() {
        Set<String> prefixes = new HashSet<>();
        for (int i = 0; board.target() != null && i < board.target().channels().size(); i++) {
            var g = board.target().channels().get(i);
            if (!prefixes.add(g.prefix())) {
                wrong("/target/channels/" + i, "Two groups of channels are named '" + g.prefix() + "'.", "Give each a different prefix.");
            }
            if (g.kind().startsWith("analog") && (g.volts() <= 0 || g.bits() <= 0)) {
                wrong("/target/channels/" + i, "The analog channels '" + g.prefix() + "' have no range.", "Add 'volts' and 'bits'.");
            }
        }
    }

    private void pins() {
        Set<String> names = new HashSet<>();
        Set<Integer> positions = new HashSet<>();
        for (int i = 0; i < board.pins().size(); i++) {
            var p = board.pins().get(i);
            if (!names.add(p.name())) {
                wrong("/pins/" + i, "Pin '" + p.name() + "' exists twice.", "Name each pin once, as it is printed.");
            }
            if (!positions.add(p.position())) {
                wrong("/pins/" + i, "Pin '" + p.name() + "' has position " + p.position() + " like another.",
                        "Number each pin of the package once.");
            }
        }
    }

    private void clocks() {
        Set<String> before = new LinkedHashSet<>();
        for (int i = 0; i < board.clock().domains().size(); i++) {
            var d = board.clock().domains().get(i);
            if (!d.from().isEmpty() && !before.contains(d.from())) {
                wrong("/clock/domains/" + i, "Clock domain '" + d.name() + "' comes from '" + d.from()
                        + "', which is not defined before it.",
                        "List the domains in the order of division.");
            }
            before.add(d.name());
            rising("/clock/domains/" + i + "/dividers", "dividers", d.dividers());
        }
        var p = board.clock().pll();
        if (p != null) {
            record Limit(String name, double least, double greatest) {}
            for (var l : List.of(new Limit("divide", p.divide().getFirst(), p.divide().getLast()),
                    new Limit("multiply", p.multiply().getFirst(), p.multiply().getLast()),
                    new Limit("inHertz", p.inHertz().getFirst(), p.inHertz().getLast()),
                    new Limit("voltageControlledHertz", p.voltageControlledHertz().getFirst(), p.voltageControlledHertz().getLast()))) {
                if (l.least() > l.greatest()) {
                    wrong("/clock/pll/" + l.name(), "The minimum of '" + l.name() + "' is above its maximum.", "Write the minimum first.");
                }
            }
            if ((p.divide().getLast() - p.divide().getFirst() + 1.0) * (p.multiply().getLast() - p.multiply().getFirst() + 1.0) * p.post()
                    .size() > 1e6) {
                wrong("/clock/pll", "The loop has more than a million settings.", "Narrow 'divide', 'multiply' or 'post'.");
            }
        }
    }

    private void units() {
        Set<String> names = new HashSet<>();
        Set<String> domains = new HashSet<>();
        board.clock().domains().forEach(d -> domains.add(d.name()));
        record Unit(String pointer, String name, String clock) {}
        List<Unit> units = new ArrayList<>();
        for (int i = 0; i < board.converters().size(); i++) {
            units.add(new Unit("/converters/" + i, board.converters().get(i).name(), board.converters().get(i).clock()));
        }
        for (int i = 0; i < board.timers().size(); i++) {
            units.add(new Unit("/timers/" + i, board.timers().get(i).name(), board.timers().get(i).clock()));
        }
        for (int i = 0; i < board.serialPorts().size(); i++) {
            units.add(new Unit("/serialPorts/" + i, board.serialPorts().get(i).name(), board.serialPorts().get(i).clock()));
        }
        for (int i = 0; i < board.buses().size(); i++) {
            units.add(new Unit("/buses/" + i, board.buses().get(i).name(), board.buses().get(i).clock()));
        }
        for (int i = 0; i < board.cans().size(); i++) {
            units.add(new Unit("/cans/" + i, board.cans().get(i).name(), board.cans().get(i).clock()));
        }
        for (int i = 0; i < board.analogOutputs().size(); i++) {
            units.add(new Unit("/analogOutputs/" + i, board.analogOutputs().get(i).name(), board.clock().domains().getFirst().name()));
        }
        for (Unit u : units) {
            if (!names.add(u.name())) {
                wrong(u.pointer(), "Two peripherals are called '" + u.name() + "'.", "Give each a different name.");
            }
            if (!domains.contains(u.clock())) {
                wrong(u.pointer(), "'" + u.name() + "' runs on the clock '" + u.clock() + "', which the board does not have.",
                        "Clocks are: " + String.join(", ", domains.stream().sorted().toList()) + ".");
            }
        }
    }

    private void timer(Board.Timer t, String pointer) {
        channels(t.name(), t.channels(), pointer);
        rising(pointer + "/prescalers", "prescalers", t.prescalers());
        known(pointer + "/trip", t.trip());
        known(pointer + "/index", t.index());
        if (t.uses().contains("encoder") && t.channels().size() < 2) {
            wrong(pointer, "'" + t.name() + "' is an encoder counter, but has only one channel.",
                    "Add channels A and B, or remove the use.");
        }
        if (t.uses().contains("three-phase") && (t.deadTime() == null || t.channels().size() < 3
                || t.channels().stream().limit(3).anyMatch(c -> c.complements().isEmpty()))) {
            wrong(pointer, "'" + t.name()
                    + "' is declared for three phases, but lacks dead time, a third channel or a complementary output.",
                    "Add them, or remove the use.");
        }
    }

    private void channels(String unit, List<Board.PinChannel> channels, String pointer) {
        Set<String> ids = new HashSet<>();
        for (int i = 0; i < channels.size(); i++) {
            var c = channels.get(i);
            String at = pointer + "/channels/" + i;
            if (!ids.add(c.id())) {
                wrong(at, "Channel '" + unit + "." + c.id() + "' exists twice.", "List its outputs as several pins of one channel.");
            }
            known(at, c.pins());
            known(at, c.complements());
        }
    }

    /** Checks ways out that name several pins with commas between; {@code count} 0 takes any number. */
    private void ways(String list, List<List<String>> all, int count) {
        for (int i = 0; i < all.size(); i++) {
            for (String way : all.get(i)) {
                List<String> pins = List.of(way.split(","));
                if (count > 0 && pins.size() != count) {
                    wrong("/" + list + "/" + i, "'" + way + "' names " + pins.size() + " pins where " + count + " are needed.",
                            "Separate them by commas.");
                }
                known("/" + list + "/" + i, pins);
            }
        }
    }

    private void known(String pointer, List<String> pins) {
        for (String pin : pins) {
            if (!board.hasPin(pin.strip())) {
                wrong(pointer, "A peripheral uses pin '" + pin.strip() + "', which the board does not have.",
                        "Correct it, or add the pin.");
            }
        }
    }

    private void rising(String pointer, String what, List<Integer> numbers) {
        for (int i = 1; i < numbers.size(); i++) {
            if (numbers.get(i) <= numbers.get(i - 1)) {
                wrong(pointer, "The " + what + " are not in ascending order.", "Sort them in ascending order.");
                return;
            }
        }
    }
}
