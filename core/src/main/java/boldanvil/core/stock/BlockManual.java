package boldanvil.core.stock;

import java.util.Map;
import java.util.stream.Collectors;

/** The manual of all blocks as Markdown, made from the same statements as the blocks themselves. */
public final class BlockManual {
    private BlockManual() {}

    /** The whole manual. */
    public static String markdown() {
        var text = new StringBuilder("""
                # Blocks

                Made from the block types themselves by `./bold-anvil blocks`; a test keeps it current. Inputs marked * do not act \
                on the output within the same step and so break algebraic loops; inputs in brackets may stay open.

                """);
        Family family = null;
        for (BlockType t : Stock.all()) {
            if (t.family() != family) {
                family = t.family();
                text.append("## ").append(family.title()).append("\n\n");
            }
            block(t, text);
        }
        return text.toString().stripTrailing() + "\n";
    }

    private static void block(BlockType t, StringBuilder text) {
        text.append("### ").append(t.title()).append(" (`").append(t.id()).append("`)\n\n").append(t.help()).append("\n\n");
        Face face = t.face(new Settings(t, Map.of()));
        if (!face.inputs().isEmpty() || !face.outputs().isEmpty()) {
            var ports = new StringBuilder();
            for (Face.In in : face.inputs()) {
                String name = "`" + in.name() + "`" + (in.direct() ? "" : "*");
                ports.append(ports.isEmpty() ? "In: " : ", ").append(in.optional() ? "[" + name + "]" : name).append(' ')
                        .append(in.accept().words());
            }
            if (!face.outputs().isEmpty()) {
                ports.append(ports.isEmpty() ? "Out: " : ". Out: ").append("`").append(String.join("`, `", face.outputs())).append("`");
            }
            text.append(ports).append(".\n\n");
        }
        if (!face.contacts().isEmpty()) {
            text.append("Contacts: ").append(face.contacts().stream().map(c -> "`" + c.name() + "` " + c.domain().label())
                    .collect(Collectors.joining(", "))).append(".\n\n");
        }
        if (t.parameters().isEmpty()) {
            return;
        }
        text.append("| Parameter | Default | Unit | Live | Meaning |\n|---|---|---|---|---|\n");
        for (Parameter p : t.parameters()) {
            String help = p.kind() == Parameter.Kind.CHOICE ? p.help() + " One of: " + String.join(", ", p.choices()) + "." : p.help();
            text.append("| `").append(p.name()).append("` | ").append(p.initial().isEmpty() ? "" : p.kind() == Parameter.Kind.SOURCE
                    ? "a text" : "`" + p.initial() + "`").append(" | ")
                    .append(p.unit().equals("1") ? "" : p.unit().replace("{unit}", "unit")).append(" | ").append(switch (p.live()) {
                        case NEVER -> "";
                        case OFFERED -> "may be";
                        case ALWAYS -> "always";
                    }).append(" | ").append(help.replace("|", "\\|")).append(" |\n");
        }
        text.append('\n');
    }
}
