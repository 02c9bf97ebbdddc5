package boldanvil.core.files;

import static boldanvil.core.files.JsonLines.given;
import static boldanvil.core.files.JsonLines.line;
import static boldanvil.core.files.JsonLines.point;
import static boldanvil.core.files.JsonLines.quote;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes a project folder. Files whose content would not change are not touched. */
public final class ProjectWriter {
    private ProjectWriter() {}

    /**
     * Writes a project, all of its files or none.
     *
     * @throws FindingException when the folder cannot be written, or another process may write it
     */
    public static void write(Project project, Path folder) {
        try {
            Files.createDirectories(folder);
            try (var lock = ProjectLock.tryTake(folder, "a command").orElse(null)) {
                if (lock == null) {
                    throw ProjectLock.refused(folder);
                }
                SavedFiles.write(folder, files(project));
            }
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The project cannot be saved: " + e.getMessage() + ".",
                    "Check the disk and the folder's permissions, then save again.");
        }
    }

    /** The text of every file of a project by its path within the folder. */
    public static Map<String, String> files(Project p) {
        Map<String, String> files = new LinkedHashMap<>();
        for (Part part : p.parts()) {
            files.put("parts/" + part.id() + ".json", part(part));
        }
        p.library().all().forEach(b -> files.put("blocks/" + b.id() + ".json", OwnBlockFile.write(b)));
        p.boards().forEach((name, text) -> files.put("boards/" + name + ".json", text));
        files.put("boards/patch.json", patches(p));
        if (!p.mappings().isEmpty()) {
            files.put("boards/" + MappingFile.NAME, MappingFile.write(p.mappings()));
        }
        p.tags().forEach((part, table) -> {
            files.put("tags/" + part + ".json", TagTableFile.write(part, table));
            files.put("tags/" + part + ".st", table.program());
        });
        p.trials().forEach((file, text) -> files.put("trials/" + file, text));
        files.put("bench/bench.json", BenchFile.write(p.bench()));
        files.put("project.json", project(p));
        return files;
    }

    private static String project(Project p) {
        return new JsonLines().put("format", "1").text("name", p.name())
                .list("variables", p.variables().stream().map(v -> line("name", quote(v.name()), "value", quote(v.value()),
                        "note", given(v.note()), "unit", given(v.unit()), "group", given(v.group()))).toList())
                .list("parts", p.parts().stream().map(q -> line(with(q.look(), "part", quote(q.id()), "at", point(q.x(), q.y())))).toList())
                .list("wires", wires(p.wires()))
                .list("rigs", p.rigs().stream().map(ProjectWriter::rig).toList()).toString();
    }

    private static List<String> wires(List<Wire> wires) {
        return wires.stream().map(w -> {
            String from = quote(w.from() + "." + w.fromPort());
            String to = quote(w.to() + "." + w.toPort());
            String lanes = w.lanes().isEmpty() ? null : JsonLines.array(w.lanes().stream().map(Lane::text).toList());
            return w.isNet() ? line("net", "[" + from + ", " + to + "]", "lanes", lanes) : line("from", from, "to", to, "lanes", lanes);
        }).toList();
    }

    private static String rig(Rig r) {
        Map<String, String> places = new LinkedHashMap<>();
        r.places().forEach((part, place) -> places.put(part, switch (place.mode()) {
            case MODEL -> "model";
            case CODE -> "code";
            case DEVICE -> "device " + place.device();
            case EMULATED -> "emulated " + place.device();
            case TARGET -> "target " + place.device() + " " + place.seat().target() + " core " + place.seat().core() + " "
                    + place.seat().overrun().label() + (place.seat().step().isEmpty() ? "" : " step " + place.seat().step());
            case PLC -> "plc " + place.device() + " " + place.link() + (place.own() ? " own" : "");
        }));
        List<String> pairs = new ArrayList<>(List.of("name", quote(r.name()), "title", quote(r.title()), "terminals",
                quote(r.terminals().name().toLowerCase(Locale.ROOT)), "places", JsonLines.map(places)));
        if (!r.bodies().isEmpty()) {
            pairs.addAll(List.of("bodies", JsonLines.map(r.bodies())));
        }
        if (!r.fidelity().isEmpty()) {
            pairs.addAll(List.of("fidelity", JsonLines.map(r.fidelity())));
        }
        if (!r.settled().isEmpty()) {
            pairs.addAll(List.of("settled", quote(r.settled())));
        }
        return line(pairs.toArray());
    }

    static String part(Part p) {
        return lines(p).toString();
    }

    static JsonLines lines(Part p) {
        return new JsonLines().put("format", "1").text("part", p.id()).text("title", p.title())
                .text("kind", p.kind().name().toLowerCase(Locale.ROOT)).text("sampleTime", p.sampleTime())
                .text("step", p.step()).text("solver", p.solver()).text("real", p.real())
                .put("sheets", sheets(p.sheets()));
    }

    static String sheets(List<Sheet> sheets) {
        return "[\n" + sheets.stream().map(ProjectWriter::sheet).collect(Collectors.joining(",\n")) + "\n  ]";
    }

    private static String sheet(Sheet s) {
        return "    {\"id\": " + quote(s.id()) + ",\n     \"blocks\": " + lines(s.blocks().stream().map(ProjectWriter::block).toList())
                + ",\n     \"wires\": " + lines(wires(s.wires()))
                + (s.marks().isEmpty() ? "" : ",\n     \"marks\": " + lines(s.marks().stream().map(ProjectWriter::mark).toList())) + "}";
    }

    private static String lines(List<String> entries) {
        return entries.isEmpty() ? "[]" : "[\n      " + String.join(",\n      ", entries) + "]";
    }

    private static String block(Block b) {
        return line(with(b.look(), "id", quote(b.id()), "type", quote(b.type()), "name", quote(b.name()), "at", point(b.x(), b.y()),
                "set", b.settings().isEmpty() ? null : JsonLines.map(b.settings()),
                "live", b.tunable().isEmpty() ? null : JsonLines.array(b.tunable())));
    }

    /** Members of an object, and after them what was chosen of its look. */
    private static Object[] with(Look look, Object... members) {
        List<Object> all = new ArrayList<>(Arrays.asList(members));
        if (look.turn() != 0) {
            all.addAll(List.of("turn", JsonLines.number(90 * look.turn())));
        }
        if (look.mirrored()) {
            all.addAll(List.of("mirrored", "true"));
        }
        if (look.width() != 0 || look.height() != 0) {
            all.addAll(List.of("size", point(look.width(), look.height())));
        }
        if (!look.ports().isEmpty()) {
            all.addAll(List.of("ports", JsonLines.array(look.ports().stream()
                    .map(p -> p.side().name().toLowerCase(Locale.ROOT) + " " + p.port()).toList())));
        }
        return all.toArray();
    }

    private static String mark(Mark m) {
        return line("id", quote(m.id()), "kind", quote(m.kind().name().toLowerCase(Locale.ROOT)), "text", quote(m.text()),
                "at", point(m.x(), m.y()), "size", point(m.width(), m.height()), "link", given(m.link()));
    }

    private static String patches(Project p) {
        return new JsonLines().put("format", "1").put("patches", p.patches().isEmpty() ? "[]" : "[\n"
                + p.patches().entrySet().stream().map(e -> "    {\"part\": " + quote(e.getKey()) + ", " + patch(e.getValue(), "     ")
                        + (e.getValue().others().isEmpty() ? "" : ",\n     \"others\": [\n" + e.getValue().others().stream()
                                .map(o -> "      {" + patch(o, "       ") + "}").collect(Collectors.joining(",\n")) + "]") + "}")
                .collect(Collectors.joining(",\n")) + "\n  ]").toString();
    }

    private static String patch(Patch p, String indent) {
        return "\"board\": " + quote(p.board()) + (p.clock().isEmpty() ? "" : ", \"clock\": " + JsonLines.map(p.clock()))
                + (p.safeOnLinkLoss() ? ", \"linkLoss\": \"go safe\"" : "") + ",\n" + indent + "\"rows\": "
                + (p.rows().isEmpty() ? "[]" : "[\n " + indent + String.join(",\n " + indent, p.rows().stream()
                        .map(r -> line("terminal", quote(r.terminal()), "peripheral", quote(r.peripheral()), "pin",
                                quote(r.pin()), "wire", quote(r.wire()))).toList()) + "]");
    }
}
