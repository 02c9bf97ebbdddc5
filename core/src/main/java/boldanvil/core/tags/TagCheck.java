package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.link.modbus.ModbusAddress;
import boldanvil.core.program.Program;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import boldanvil.core.text.PlcProgram.Variable;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** What is wrong with the tags of a part, and with what its ports are bound to. */
public final class TagCheck {
    private final String part;
    private final Program program;
    private final TagTable table;
    private final Map<String, Line> lines;
    private final String protocol;
    private final List<Finding> findings = new ArrayList<>();

    private TagCheck(String part, Program program, TagTable table, String protocol) {
        this.part = part;
        this.program = program;
        this.table = table;
        lines = table.byName();
        this.protocol = protocol;
    }

    /**
     * Checks a table for the link over which it is used.
     *
     * @param around what the stand-in has; null for a real PLC, whose program is its own
     */
    public static List<Finding> check(String part, Program program, TagTable table, String protocol, Surroundings around) {
        var c = new TagCheck(part, program, table, protocol);
        c.ports();
        c.rates();
        if (around != null) {
            c.declarations(around);
        }
        return c.findings;
    }

    private void error(String tag, String cause, String cure) {
        findings.add(Finding.error(Place.tags(part, tag), cause, cure));
    }

    private void warning(String tag, String cause, String cure) {
        findings.add(Finding.warning(Place.tags(part, tag), cause, cure));
    }

    private void ports() {
        Map<String, Signal> signals = new HashMap<>();
        Map<String, String> writers = new HashMap<>();
        for (Signal p : Signal.of(program)) {
            signals.put(p.name(), p);
            String name = table.bindings().get(p.name());
            if (name == null && !p.isPort()) {
                continue;
            }
            if (name == null) {
                warning(p.name(), "The port '" + p.name() + "' has no tag. " + (p.isWritten() ? "The PLC does not get its value."
                        : "It stays at its initial value."), "Bind it on the Tags page, or delete the port.");
                continue;
            }
            Line line = lines.get(name);
            if (line == null) {
                error(p.name(), "'" + p.name() + "' is bound to '" + name + "', which is not among the tags.",
                        "Bind it to another tag, or add that one.");
                continue;
            }
            bound(p, line);
            if (p.isWritten()) {
                String before = writers.put(name.toLowerCase(Locale.ROOT), p.name());
                if (before != null) {
                    error(name, "The tag '" + name + "' is driven by '" + before + "' and '" + p.name() + "'.",
                            "Bind one of them to another tag.");
                }
            }
        }
        table.bindings().keySet().stream().filter(p -> !signals.containsKey(p)).forEach(p -> warning(p,
                "The part has no port, tunable or signal '" + p + "'.", "Remove this binding on the Tags page."));
    }

    private void bound(Signal p, Line l) {
        var conversion = Conversion.of(p, l);
        if (!conversion.isPossible()) {
            error(p.name(), "'" + p.name() + "' cannot be bound to '" + l.name() + "': " + conversion.cause(), conversion.cure());
        }
        if (p.isWritten() && l.direction() == Direction.OUT) {
            error(l.name(), "'" + p.name() + "' drives '" + l.name() + "', which the PLC itself drives.",
                    "Bind a tag with the direction in or both.");
        } else if (!p.isWritten() && l.direction() == Direction.IN) {
            warning(l.name(), "'" + p.name() + "' reads '" + l.name() + "', which is an input of the PLC.",
                    "Bind it to a tag with the direction out, unless this is meant.");
        }
        if (protocol.equals(PartTags.MODBUS)) {
            register(p, l);
        }
    }

    private void register(Signal p, Line l) {
        Tag tag = TagAddress.of(l, protocol);
        if (tag.address().isBlank()) {
            error(l.name(), "The tag '" + l.name() + "' has no address, and Modbus knows no names.",
                    "Write its register, such as holding 100 or %MW100.");
            return;
        }
        try {
            var at = ModbusAddress.of(tag);
            if (p.isWritten() && !at.isWritable()) {
                error(l.name(), "'" + l.name() + "' lies at " + l.address() + ", which cannot be written over Modbus.",
                        "Place it in the memory (%M, coils or holding registers), or use OPC UA.");
            }
        } catch (FindingException e) {
            e.findings().forEach(f -> findings.add(f.at(Place.tags(part, l.name()))));
        }
    }

    private void rates() {
        for (Line l : table.lines()) {
            if (!l.rate().isEmpty()) {
                double seconds = TagAddress.period(l).orElse(0);
                if (!(seconds >= 0.001 && seconds <= 3600)) {
                    error(l.name(), "'" + l.rate() + "' is not a rate for '" + l.name() + "'.",
                            "Write a time from 1 ms to 1 h, such as 100 ms.");
                }
            }
        }
    }

    /** Holds the bound tags against what the program of the stand-in declares. */
    private void declarations(Surroundings around) {
        if (!table.hasProgram()) {
            error("", "The stand-in of the PLC has no program of its own to run.",
                    "Import one on the Tags page, or let the rig run the text made from the part.");
            return;
        }
        var plc = PlcProgram.of(table.program(), around);
        plc.mistakes().stream().limit(20).forEach(m -> findings.add(m.isWarning()
                ? Finding.warning(Place.tags(part, ""), "Program of the PLC: " + m.located(), m.cure())
                : Finding.error(Place.tags(part, ""), "Program of the PLC: " + m.located(), m.cure())));
        if (!plc.isUsable() || protocol.equals(PartTags.MODBUS)) {
            return;
        }
        Map<String, Variable> declared = new HashMap<>();
        plc.variables().forEach(v -> declared.put(TagAddress.node(v.path()).toLowerCase(Locale.ROOT), v));
        for (String name : table.bindings().values()) {
            Line l = lines.get(name);
            if (l == null) {
                continue;
            }
            var v = declared.get(TagAddress.of(l, protocol).address().toLowerCase(Locale.ROOT));
            if (v == null) {
                error(name, "The program of the PLC has no variable '" + name + "'.", "Import the tags again, or correct the name.");
            } else if (TagSources.type(v) != TagType.named(l.type()).orElse(null)) {
                error(name, "'" + name + "' is " + l.type() + " in the table and " + v.type() + " in the program.",
                        "Correct the type in the table.");
            }
        }
    }
}
