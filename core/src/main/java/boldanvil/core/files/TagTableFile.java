package boldanvil.core.files;

import static boldanvil.core.files.JsonLines.given;
import static boldanvil.core.files.JsonLines.line;
import static boldanvil.core.files.JsonLines.quote;

import boldanvil.core.diagram.TagTable;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** The file of a part's tags; the text of the PLC's program lies beside it. */
final class TagTableFile {
    private TagTableFile() {}

    /** @param program the text of the program; empty for none */
    static TagTable read(JsonNode n, String program) {
        List<TagTable.Line> lines = new ArrayList<>();
        for (JsonNode t : n.path("tags")) {
            lines.add(new TagTable.Line(t.path("name").asString(""), t.path("type").asString(""), t.path("address").asString(""),
                    t.path("unit").asString(""), t.path("factor").asDouble(1), t.path("offset").asDouble(0),
                    TagTable.Direction.of(t.path("direction").asString("both")).orElse(TagTable.Direction.BOTH),
                    t.path("rate").asString(""), t.path("comment").asString("")));
        }
        Map<String, String> bindings = new LinkedHashMap<>();
        n.path("bindings").properties().forEach(e -> bindings.put(e.getKey(), e.getValue().asString()));
        return new TagTable(lines, bindings, program);
    }

    static String write(String part, TagTable t) {
        return new JsonLines().put("format", "1").text("part", part)
                .list("tags", t.lines().stream().map(l -> line("name", quote(l.name()), "type", quote(l.type()), "address",
                        given(l.address()),
                        "unit", given(l.unit()), "factor", l.factor() == 1 ? null : JsonLines.number(l.factor()),
                        "offset", l.offset() == 0 ? null : JsonLines.number(l.offset()),
                        "direction", l.direction() == TagTable.Direction.BOTH ? null : quote(l.direction().label()),
                        "rate", given(l.rate()), "comment", given(l.comment()))).toList())
                .put("bindings", JsonLines.map(t.bindings())).toString();
    }
}
