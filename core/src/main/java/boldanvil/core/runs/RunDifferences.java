package boldanvil.core.runs;

import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** What differed in what made two runs: rig, devices, images, changes, and every value of the projects as they were. */
public final class RunDifferences {
    private static final long MAX_BYTES = 64L << 20;

    private static final int MOST = 500;

    /**
     * Something that differs.
     *
     * @param what for people
     * @param first how it was in the first run; empty for not at all
     * @param second how it was in the second run
     */
    public record Row(String what, String first, String second) {}

    private RunDifferences() {}

    public static List<Row> of(RunShelf.Entry a, RunShelf.Entry b) {
        List<Row> rows = new ArrayList<>();
        add(rows, "rig", a.note().rig(), b.note().rig());
        each(rows, "", " runs on", a.note().devices(), b.note().devices());
        each(rows, "image of ", "", shortened(a.note().images()), shortened(b.note().images()));
        add(rows, "sample time", a.note().step() == 0 ? "" : a.note().step() + " s", b.note().step() == 0 ? "" : b.note().step() + " s");
        add(rows, "changes during the run", String.join("; ", a.note().changes()), String.join("; ", b.note().changes()));
        rows.addAll(projects(a, b));
        return rows;
    }

    /** What differs between the projects alone. */
    public static List<Row> projects(RunShelf.Entry a, RunShelf.Entry b) {
        List<Row> rows = new ArrayList<>();
        Map<String, String> first = flattened(a.folder().resolve("project"));
        Map<String, String> second = flattened(b.folder().resolve("project"));
        var keys = new TreeSet<>(first.keySet());
        keys.addAll(second.keySet());
        // Where a thing is on its sheet or on the bench makes no run.
        keys.removeIf(k -> k.startsWith("bench/") || k.contains(" · at"));
        for (String k : keys) {
            if (rows.size() < MOST) {
                add(rows, k, first.getOrDefault(k, ""), second.getOrDefault(k, ""));
            }
        }
        return rows;
    }

    private static void add(List<Row> rows, String what, String a, String b) {
        if (!a.equals(b)) {
            rows.add(new Row(what, a, b));
        }
    }

    private static void each(List<Row> rows, String before, String behind, Map<String, String> a, Map<String, String> b) {
        var keys = new TreeSet<>(a.keySet());
        keys.addAll(b.keySet());
        keys.forEach(k -> add(rows, before + k + behind, a.getOrDefault(k, ""), b.getOrDefault(k, "")));
    }

    private static Map<String, String> shortened(Map<String, String> hashes) {
        Map<String, String> all = new TreeMap<>();
        hashes.forEach((k, v) -> all.put(k, v.length() > 12 ? v.substring(0, 12) + "…" : v));
        return all;
    }

    /** Every value of every file, by its place. */
    private static Map<String, String> flattened(Path folder) {
        Map<String, String> all = new LinkedHashMap<>();
        if (!Files.isDirectory(folder)) {
            return all;
        }
        try (var files = Files.walk(folder, 3)) {
            for (Path f : files.filter(p -> p.toString().endsWith(".json")).sorted().toList()) {
                flatten(folder.relativize(f).toString().replace(".json", ""),
                        RunShelf.MAPPER.readTree(SafeFile.text(folder, f, MAX_BYTES)), all);
            }
        } catch (IOException | JacksonException e) {
            throw FindingException.of(folder.toString(), "The project of the run cannot be read: " + String.valueOf(e.getMessage()).lines()
                    .findFirst().orElse("") + ".",
                    "Correct the file; the samples can still be compared.");
        }
        return all;
    }

    private static void flatten(String place, JsonNode n, Map<String, String> to) {
        if (n.isObject()) {
            n.properties().forEach(e -> flatten(place + (e.getKey().equals("set") ? "" : " · " + e.getKey()), e.getValue(), to));
        } else if (n.isArray() && n.size() > 0 && n.get(0).isObject()) {
            for (int i = 0; i < n.size(); i++) {
                flatten(place.replaceAll(" · (blocks|variables|rigs|sheets|rows|parts)$", "") + " · " + name(n.get(i), i), n.get(i), to);
            }
        } else {
            to.put(place, n.isValueNode() ? n.asString("") : n.toString());
        }
    }

    /** What people call an element of a list. */
    private static String name(JsonNode n, int index) {
        for (String key : new String[] {"name", "title", "terminal", "part", "id"}) {
            if (!n.path(key).asString("").isEmpty()) {
                return n.path(key).asString();
            }
        }
        return n.has("from") && n.has("to") ? n.path("from").asString("") + " to " + n.path("to").asString("")
                : Integer.toString(index + 1);
    }
}
