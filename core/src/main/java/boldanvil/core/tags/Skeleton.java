package boldanvil.core.tags;

import boldanvil.core.diagram.Part;
import boldanvil.core.iec.StGenerator;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import java.util.List;
import java.util.Map;

/** A program for a PLC that has the declarations, the task and the comments, and whose statements are still to be written. */
public final class Skeleton {
    private Skeleton() {}

    /**
     * The text for a part.
     *
     * @param kind of the part: of a controller the ports are those of the program; what a plant takes, the program gives
     * @param intervalNanos of the task
     */
    public static String of(Program program, Part.Kind kind, long intervalNanos) {
        boolean turned = kind == Part.Kind.PLANT;
        String name = program.name() + (turned ? "_control" : "_program");
        var names = StGenerator.portNames(program);
        var text = new StringBuilder();
        text.append("(* Made from the ports of '").append(program.name()).append("'. Write the statements of the program below. *)\n\n");
        text.append("PROGRAM ").append(name).append('\n');
        block(text, "VAR_INPUT", program.ports().stream().filter(p -> p.isInput() != turned).toList(), names);
        block(text, "VAR_OUTPUT", program.ports().stream().filter(p -> p.isInput() == turned).toList(), names);
        text.append("\n;\nEND_PROGRAM\n\nCONFIGURATION ").append(name)
                .append("_configuration\n    RESOURCE main ON PLC\n        TASK base(INTERVAL := ")
                .append(time(intervalNanos)).append(", PRIORITY := 1);\n        PROGRAM ").append(program.name()).append(" WITH base : ")
                .append(name).append(";\n    END_RESOURCE\nEND_CONFIGURATION\n");
        return text.toString();
    }

    private static void block(StringBuilder text, String kind, List<Port> ports, Map<String, String> names) {
        if (ports.isEmpty()) {
            return;
        }
        text.append("    ").append(kind).append('\n');
        for (Port p : ports) {
            text.append("        ").append(names.get(p.name())).append(" : ").append(TagType.of(p.slot().type()).name()).append(";    (* ")
                    .append(p.name().replace("*)", "* )")).append(p.slot().unit().isEmpty() ? "" : " [" + p.slot().unit() + "]")
                            .append(" *)\n");
        }
        text.append("    END_VAR\n");
    }

    private static String time(long nanos) {
        return nanos % 1_000_000 == 0 ? "T#" + nanos / 1_000_000 + "ms" : "T#" + nanos / 1_000 + "us";
    }
}
