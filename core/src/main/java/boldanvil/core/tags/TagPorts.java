package boldanvil.core.tags;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.diagram.Wire;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Makes ports of tags: an inlet or an outlet on the sheet of a part for each of them. */
public final class TagPorts {
    private static final double ROW = 60;
    private static final double COLUMN = 320;

    private TagPorts() {}

    /**
     * Adds the ports. A controller takes what the PLC takes, a plant gives it. An outlet is driven by a constant 0 until it gets a wire.
     * In a controller the ports are bound to their tags.
     */
    public static Project add(Project project, String partId, List<Line> tags) {
        Part part = project.part(partId).orElseThrow();
        Sheet sheet = part.main();
        boolean isController = part.kind() == Part.Kind.CONTROLLER;
        double left = sheet.blocks().stream().mapToDouble(Block::x).min().orElse(0);
        double inlets = sheet.blocks().stream().mapToDouble(Block::y).max().orElse(-ROW) + 2 * ROW;
        double outlets = inlets;
        Map<String, String> bindings = new LinkedHashMap<>(project.tagTable(partId).bindings());
        for (Line l : tags) {
            String name = sheet.freshName(l.name().substring(l.name().lastIndexOf('.') + 1).replace('_', ' ').strip());
            var type = TagType.named(l.type()).flatMap(TagType::type).orElse(Type.FLOAT64);
            if (l.direction() != Direction.OUT == isController) {
                sheet = plus(sheet, Block.of(sheet.freshId(), "inlet", name, left, inlets, settings(l, type)));
                inlets += ROW;
            } else {
                var zero = Block.of(sheet.freshId(), "constant", sheet.freshName(name + " off"), left + COLUMN, outlets,
                        type == Type.BOOL ? Map.of("value", "0", "type", "bool") : Map.of("value", "0"));
                sheet = plus(sheet, zero);
                var outlet = Block.of(sheet.freshId(), "outlet", name, left + COLUMN + COLUMN / 2, outlets,
                        l.unit().isEmpty() ? Map.of() : Map.of("unit", l.unit()));
                sheet = plus(sheet, outlet);
                List<Wire> wires = new ArrayList<>(sheet.wires());
                wires.add(new Wire(zero.id(), "y", outlet.id(), "u"));
                sheet = sheet.withWires(wires);
                outlets += ROW;
            }
            if (isController) {
                bindings.put(name, l.name());
            }
        }
        Sheet done = sheet;
        TagTable table = project.tagTable(partId);
        Project next = project.change(partId, p -> {
            List<Sheet> sheets = new ArrayList<>(p.sheets());
            sheets.set(0, done);
            return p.withSheets(sheets);
        });
        return isController ? next.withTags(partId, table.withBindings(bindings)) : next;
    }

    private static Sheet plus(Sheet sheet, Block b) {
        List<Block> blocks = new ArrayList<>(sheet.blocks());
        blocks.add(b);
        return sheet.withBlocks(blocks);
    }

    private static Map<String, String> settings(Line l, Type type) {
        Map<String, String> all = new LinkedHashMap<>();
        if (type == Type.BOOL) {
            all.put("type", "bool");
        } else if (type.isInteger() && !l.isScaled() && l.unit().isEmpty()) {
            all.put("type", type.label());
        }
        if (!l.unit().isEmpty()) {
            all.put("unit", l.unit());
        }
        return all;
    }
}
