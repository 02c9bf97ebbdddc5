package boldanvil.additions;

import boldanvil.core.diagram.Rig;
import boldanvil.core.export.Exporter;
import boldanvil.core.output.CodeGenerator;
import boldanvil.core.output.CodeText;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import java.util.List;

/** An output that lists the slots of a program, and its exporter. */
public final class SlotList implements CodeGenerator, Exporter {
    @Override
    public String language() {
        return "list of slots";
    }

    @Override
    public List<GeneratedFile> generate(Program program) {
        var text = new CodeText();
        program.slots().forEach(s -> text.line(s.type().label() + " " + s.name()));
        return List.of(text.file(program.name() + ".slots"));
    }

    @Override
    public String id() {
        return "slots";
    }

    @Override
    public String title() {
        return "List of slots";
    }

    @Override
    public List<GeneratedFile> files(Review review, Rig rig, String part) {
        return generate(review.system().program(part).orElseThrow());
    }
}
