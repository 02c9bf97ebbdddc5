package boldanvil.core.export;

import boldanvil.core.diagram.Rig;
import boldanvil.core.iec.StGenerator;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.review.Review;
import boldanvil.core.tags.PartTags;
import java.util.List;
import java.util.Map;

/**
 * The Structured Text of a part, for the tool of a PLC: with the addresses of its ports where the rig reaches it over Modbus, and the
 * PLC's own program where the rig runs that.
 */
public final class StText implements Exporter {
    @Override
    public String id() {
        return "st";
    }

    @Override
    public String title() {
        return "Structured Text (IEC 61131-3)";
    }

    @Override
    public List<GeneratedFile> files(Review review, Rig rig, String part) {
        var program = review.system().program(part).orElseThrow();
        if (rig.place(part).own()) {
            return List.of(new GeneratedFile(part + ".st", review.project().tagTable(part).program(), Map.of()));
        }
        boolean registers = rig.place(part).link().startsWith(PartTags.MODBUS);
        return List.of(StGenerator.of(program, registers ? PartTags.of(program, PartTags.MODBUS).addresses() : Map.of()));
    }
}
