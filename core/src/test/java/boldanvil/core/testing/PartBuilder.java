package boldanvil.core.testing;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.lower.Lowered;
import boldanvil.core.lower.PartLowering;
import boldanvil.core.program.Program;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/** Makes parts for tests in few words. Blocks go by their names; a setting reads {@code k=2}, a live one {@code *k=2}. */
public final class PartBuilder {
    private final String id;
    private final Map<String, List<Block>> blocks = new LinkedHashMap<>();
    private final Map<String, List<Wire>> wires = new LinkedHashMap<>();
    private Part.Kind kind = Part.Kind.CONTROLLER;
    private String sampleTime = "1 ms";
    private String step = "1 ms";
    private String solver = "rk4";
    private String real = "float64";
    private String sheet = "main";

    public PartBuilder(String id) {
        this.id = id;
        sheet("main");
    }

    public PartBuilder sheet(String name) {
        sheet = name;
        blocks.computeIfAbsent(name, _ -> new ArrayList<>());
        wires.computeIfAbsent(name, _ -> new ArrayList<>());
        return this;
    }

    public PartBuilder sampleTime(String text) {
        sampleTime = text;
        return this;
    }

    public PartBuilder plant(String stepText, String solverName) {
        kind = Part.Kind.PLANT;
        sampleTime = "continuous";
        step = stepText;
        solver = solverName;
        return this;
    }

    public PartBuilder real(String type) {
        real = type;
        return this;
    }

    public PartBuilder block(String name, String type, String... settings) {
        Map<String, String> map = new LinkedHashMap<>();
        Set<String> live = new TreeSet<>();
        for (String s : settings) {
            int equals = s.indexOf('=');
            String key = s.substring(s.startsWith("*") ? 1 : 0, equals);
            map.put(key, s.substring(equals + 1));
            if (s.startsWith("*")) {
                live.add(key);
            }
        }
        double x = 170.0 * (blocks.get(sheet).size() % 5);
        double y = 110.0 * (blocks.get(sheet).size() / 5);
        blocks.get(sheet).add(new Block(name, type, name, x, y, map, live));
        return this;
    }

    /** Ends are {@code block.port}. */
    public PartBuilder wire(String from, String to) {
        wires.get(sheet).add(new Wire(from.substring(0, from.indexOf('.')), from.substring(from.indexOf('.') + 1),
                to.substring(0, to.indexOf('.')), to.substring(to.indexOf('.') + 1)));
        return this;
    }

    /** Joins contacts, each written {@code block.contact}. */
    public PartBuilder net(String... contacts) {
        for (int i = 1; i < contacts.length; i++) {
            String a = contacts[i - 1];
            String b = contacts[i];
            wires.get(sheet).add(Wire.net(a.substring(0, a.indexOf('.')), a.substring(a.indexOf('.') + 1), b.substring(0, b.indexOf('.')),
                    b.substring(b.indexOf('.') + 1)));
        }
        return this;
    }

    public Part part() {
        List<Sheet> sheets = new ArrayList<>();
        blocks.forEach((name, list) -> sheets.add(new Sheet(name, list, wires.get(name))));
        return new Part(id, "Part " + id, kind, sampleTime, step, solver, real, 0, 0, sheets);
    }

    public Lowered lower() {
        return PartLowering.lower(part(), Map.of());
    }

    public Program program() {
        var lowered = lower();
        return lowered.program().orElseThrow(() -> new AssertionError(lowered.findings().toString()));
    }

    /** A project of parts with the rig {@code desk}. */
    public static Project project(List<Part> parts, Wire... wires) {
        return Project.empty("Test").withParts(parts).withWires(List.of(wires))
                .withRigs(List.of(new Rig("desk", "", Rig.Terminals.IDEAL, Map.of())));
    }
}
