package boldanvil.core.files;

import static boldanvil.core.files.JsonLines.line;
import static boldanvil.core.files.JsonLines.quote;

import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.OwnBlock.Parameter;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/** An own block as a file, in the form of a part. */
final class OwnBlockFile {
    static final String ENDING = ".json";

    private OwnBlockFile() {}

    static String write(OwnBlock b) {
        var lines = new JsonLines().put("format", "1").text("block", b.id()).text("title", b.title()).text("kind", "block")
                .text("help", b.help());
        if (!b.caption().isEmpty()) {
            lines.text("caption", b.caption());
        }
        if (!b.curve().isEmpty()) {
            lines.put("curve", line("y", quote(b.curve()), "from", quote(b.curveFrom()), "to", quote(b.curveTo())));
        }
        return lines.list("parameters", b.parameters().stream().map(p -> line("name", quote(p.name()), "value", quote(p.value()),
                "unit", quote(p.unit()), "note", quote(p.note()))).toList())
                .put("sheets", ProjectWriter.sheets(b.sheets())).toString();
    }

    /**
     * @param file its name must be that of the block
     * @throws FindingException when the file is that of something else
     */
    static OwnBlock read(JsonNode n, Path file) {
        OwnBlock b = read(n, file.toString());
        if (!file.getFileName().toString().equals(b.id() + ENDING)) {
            throw FindingException.of(file.toString(), "The file contains own block '" + b.id() + "'.",
                    "Name the file after its block, or correct \"block\".");
        }
        return b;
    }

    static OwnBlock read(JsonNode n, String place) {
        String id = n.path("block").asString("");
        List<Parameter> parameters = new ArrayList<>();
        n.path("parameters").forEach(p -> parameters.add(new Parameter(p.path("name").asString(""), p.path("value").asString(""),
                p.path("unit").asString(""), p.path("note").asString(""))));
        JsonNode curve = n.path("curve");
        var sheets = ProjectReader.sheets(n);
        if (id.isEmpty() || !sheets.getFirst().id().equals(OwnBlock.MARK + id)
                || sheets.stream().anyMatch(s -> !OwnBlock.holds(s.id()) || !OwnBlock.owner(s.id()).equals(id))) {
            throw FindingException.of(place, "The file is not that of an own block: its first sheet needs the id '@', followed by the name "
                    + "of the block.", "Restore the file, or correct the ids of its sheets.");
        }
        return new OwnBlock(id, n.path("title").asString(id), n.path("help").asString(""), n.path("caption").asString(""),
                curve.path("y").asString(""), curve.path("from").asString(""), curve.path("to").asString(""), parameters, sheets);
    }
}
