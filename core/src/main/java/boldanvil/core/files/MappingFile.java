package boldanvil.core.files;

import static boldanvil.core.files.JsonLines.given;
import static boldanvil.core.files.JsonLines.line;
import static boldanvil.core.files.JsonLines.number;
import static boldanvil.core.files.JsonLines.quote;

import boldanvil.core.diagram.Mapping;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/** The file with the channels of real-time targets; what a row leaves out is as in {@link Mapping.Row#plain}. */
final class MappingFile {
    /** Its name in the folder {@code boards}. */
    static final String NAME = "mapping.json";

    private MappingFile() {}

    static Map<String, Mapping> read(JsonNode n) {
        Map<String, Mapping> all = new LinkedHashMap<>();
        for (JsonNode m : n.path("mappings")) {
            List<Mapping.Row> rows = new ArrayList<>();
            m.path("rows").forEach(r -> rows.add(new Mapping.Row(r.path("port").asString(""), r.path("channel").asString(""),
                    r.path("scale").asDouble(1), r.path("offset").asDouble(0), r.path("minimum").asDouble(Double.NEGATIVE_INFINITY),
                    r.path("maximum").asDouble(Double.POSITIVE_INFINITY), r.path("filter").asDouble(0), r.path("lines").asDouble(0),
                    Mapping.Mean.valueOf(r.path("mean").asString("step").toUpperCase(Locale.ROOT)), r.path("wire").asString(""))));
            all.put(m.path("part").asString(""), new Mapping(m.path("board").asString(""), m.path("budget").asDouble(0), rows));
        }
        return all;
    }

    static String write(Map<String, Mapping> all) {
        return new JsonLines().put("format", "1").put("mappings", "[\n" + all.entrySet().stream().map(e -> "    {\"part\": "
                + quote(e.getKey()) + ", \"board\": " + quote(e.getValue().board())
                + (e.getValue().budgetSeconds() > 0 ? ", \"budget\": " + number(e.getValue().budgetSeconds()) : "")
                + ",\n     \"rows\": " + (e.getValue().rows().isEmpty() ? "[]" : "[\n      " + e.getValue().rows().stream()
                        .map(MappingFile::row).collect(Collectors.joining(",\n      ")) + "]") + "}")
                .collect(Collectors.joining(",\n")) + "\n  ]").toString();
    }

    private static String row(Mapping.Row r) {
        return line("port", quote(r.port()), "channel", given(r.channel()), "scale", r.scale() == 1 ? null : number(r.scale()),
                "offset", r.offset() == 0 ? null : number(r.offset()),
                "minimum", Double.isInfinite(r.minimum()) ? null : number(r.minimum()),
                "maximum", Double.isInfinite(r.maximum()) ? null : number(r.maximum()),
                "filter", r.filterHertz() == 0 ? null : number(r.filterHertz()), "lines", r.lines() == 0 ? null : number(r.lines()),
                "mean", r.mean() == Mapping.Mean.STEP ? null : quote("period"), "wire", given(r.wire()));
    }
}
