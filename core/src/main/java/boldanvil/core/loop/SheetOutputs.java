package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.edit.Faces;
import java.util.ArrayList;
import java.util.List;

/** Outputs on the sheet of a wire, which a controller there can read. */
public final class SheetOutputs {
    private SheetOutputs() {}

    /** Diagram paths with ports, those of inlets and terminals first. */
    public static List<String> of(Project p, Cut cut) {
        List<String> inputs = new ArrayList<>();
        List<String> others = new ArrayList<>();
        Sheet sheet = p.sheet(cut.sheet()).orElseThrow();
        for (Block b : sheet.blocks()) {
            var face = p.part(cut.part()).flatMap(part -> Faces.of(part, b));
            if (face.isEmpty() || b.id().equals(cut.block())) {
                continue;
            }
            List<String> outputs = face.get().outputs();
            for (String port : outputs) {
                String path = cut.path() + "/" + b.name() + (outputs.size() > 1 ? "." + port : "");
                (face.get().inputs().isEmpty() && !b.type().equals("constant") ? inputs : others).add(path);
            }
        }
        inputs.addAll(others);
        return inputs;
    }
}
