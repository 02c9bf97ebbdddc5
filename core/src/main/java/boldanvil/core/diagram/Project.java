package boldanvil.core.diagram;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;

/**
 * Everything a project folder holds, apart from its runs.
 *
 * @param wires wires of the system sheet; their ends are part ids and port names
 * @param patches patch rows by part id
 * @param boards board files the project brings along, as they are written, by name without ending
 * @param library blocks made of sheets that its parts use
 * @param tags tags of PLCs with programs of their own, by part id
 * @param trials texts of trials and the recorded courses they compare with, by file name
 * @param mappings channels of real-time targets, by part id
 */
public record Project(String name, List<Variable> variables, List<Part> parts, List<Wire> wires, List<Rig> rigs,
        Map<String, Patch> patches, BenchLayout bench, Map<String, String> boards, Library library, Map<String, TagTable> tags,
        Map<String, String> trials, Map<String, Mapping> mappings) {
    public Project {
        variables = List.copyOf(variables);
        parts = parts.stream().map(p -> p.with(library)).toList();
        wires = List.copyOf(wires);
        rigs = List.copyOf(rigs);
        patches = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(patches));
        boards = Map.copyOf(boards);
        tags = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(tags));
        trials = java.util.Collections.unmodifiableMap(new TreeMap<>(trials));
        mappings = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(mappings));
    }

    public Project(String name, List<Variable> variables, List<Part> parts, List<Wire> wires, List<Rig> rigs,
            Map<String, Patch> patches, BenchLayout bench, Map<String, String> boards, Library library) {
        this(name, variables, parts, wires, rigs, patches, bench, boards, library, Map.of(), Map.of(), Map.of());
    }

    public Project(String name, List<Variable> variables, List<Part> parts, List<Wire> wires, List<Rig> rigs,
            Map<String, Patch> patches, BenchLayout bench, Map<String, String> boards) {
        this(name, variables, parts, wires, rigs, patches, bench, boards, Library.EMPTY);
    }

    /** A project with nothing in it. */
    public static Project empty(String name) {
        return new Project(name, List.of(), List.of(), List.of(), List.of(), Map.of(), BenchLayout.EMPTY, Map.of());
    }

    public Optional<Part> part(String id) {
        return parts.stream().filter(p -> p.id().equals(id)).findFirst();
    }

    public Optional<Rig> rig(String rigName) {
        return rigs.stream().filter(r -> r.name().equals(rigName)).findFirst();
    }

    /** Variable texts by name. */
    public Map<String, String> variableTexts() {
        Map<String, String> texts = new LinkedHashMap<>();
        variables.forEach(v -> texts.put(v.name(), v.value()));
        return texts;
    }

    public Project named(String other) {
        return new Project(other, variables, parts, wires, rigs, patches, bench, boards, library, tags, trials, mappings);
    }

    public Project withVariables(List<Variable> next) {
        return new Project(name, next, parts, wires, rigs, patches, bench, boards, library, tags, trials, mappings);
    }

    public Project withParts(List<Part> next) {
        return new Project(name, variables, next, wires, rigs, patches, bench, boards, library, tags, trials, mappings);
    }

    public Project withWires(List<Wire> next) {
        return new Project(name, variables, parts, next, rigs, patches, bench, boards, library, tags, trials, mappings);
    }

    public Project withRigs(List<Rig> next) {
        return new Project(name, variables, parts, wires, next, patches, bench, boards, library, tags, trials, mappings);
    }

    public Project withBench(BenchLayout next) {
        return new Project(name, variables, parts, wires, rigs, patches, next, boards, library, tags, trials, mappings);
    }

    public Project withBoards(Map<String, String> next) {
        return new Project(name, variables, parts, wires, rigs, patches, bench, next, library, tags, trials, mappings);
    }

    public Project withLibrary(Library next) {
        return new Project(name, variables, parts, wires, rigs, patches, bench, boards, next, tags, trials, mappings);
    }

    public Project withPatch(String partId, Patch patch) {
        var next = new LinkedHashMap<>(patches);
        next.put(partId, patch);
        return new Project(name, variables, parts, wires, rigs, next, bench, boards, library, tags, trials, mappings);
    }

    /** The tags of the PLC a part is bound to. */
    public TagTable tagTable(String partId) {
        return tags.getOrDefault(partId, TagTable.EMPTY);
    }

    /** The same project with other tags for a part. A table that has become empty stays, so that it is written over the former one. */
    public Project withTags(String partId, TagTable table) {
        var next = new LinkedHashMap<>(tags);
        if (!table.isEmpty() || next.containsKey(partId)) {
            next.put(partId, table);
        }
        return new Project(name, variables, parts, wires, rigs, patches, bench, boards, library, next, trials, mappings);
    }

    /** The same project with another text of a trial or course; one that is empty is written over the former file. */
    public Project withTrial(String file, String text) {
        var next = new LinkedHashMap<>(trials);
        next.put(file, text);
        return new Project(name, variables, parts, wires, rigs, patches, bench, boards, library, tags, next, mappings);
    }

    /** The same project with other channels for a part. */
    public Project withMapping(String partId, Mapping mapping) {
        var next = new LinkedHashMap<>(mappings);
        next.put(partId, mapping);
        return new Project(name, variables, parts, wires, rigs, patches, bench, boards, library, tags, trials, next);
    }

    /** The same project with the patch, the tags and the channels of a part that changed its id. */
    public Project followed(String formerPart, String part) {
        var next = new LinkedHashMap<String, Patch>();
        patches.forEach((id, patch) -> next.put(id.equals(formerPart) ? part : id, patch));
        var tables = new LinkedHashMap<String, TagTable>();
        tags.forEach((id, table) -> tables.put(id.equals(formerPart) ? part : id, table));
        var channels = new LinkedHashMap<String, Mapping>();
        mappings.forEach((id, mapping) -> channels.put(id.equals(formerPart) ? part : id, mapping));
        return new Project(name, variables, parts, wires, rigs, next, bench, boards, library, tables, trials, channels);
    }

    /**
     * The project as a rig has it: subsystems stand for the bodies the rig chooses, power stages are as exact as it says, continuous
     * parts on targets have the step of their seat. A path that leads to no block is left alone, see {@link #strayPaths}.
     */
    public Project as(Rig rig) {
        Project p = with(with(this, rig.bodies(), "sheet"), rig.fidelity(), Rig.FIDELITY);
        for (String part : rig.onTargets()) {
            String step = rig.place(part).seat().step();
            p = step.isEmpty() ? p : p.change(part, x -> x.withStep(step));
        }
        return p;
    }

    private static Project with(Project project, Map<String, String> values, String parameter) {
        Project p = project;
        for (var value : values.entrySet()) {
            var place = Places.find(p, value.getKey());
            if (place.isPresent()) {
                p = p.change(place.get().sheet(), s -> s.change(place.get().block().id(), b -> b.with(parameter, value.getValue())));
            }
        }
        return p;
    }

    /** Paths for which a rig chooses something and that lead to no block. */
    public List<String> strayPaths(Rig rig) {
        return rig.paths().stream().filter(path -> Places.find(this, path).isEmpty()).toList();
    }

    /** The same project with one part changed. */
    public Project change(String partId, UnaryOperator<Part> how) {
        return withParts(replace(parts, p -> p.id().equals(partId), how));
    }

    /** The same project with one sheet changed. That of an own block changes for all uses. */
    public Project change(SheetRef ref, UnaryOperator<Sheet> how) {
        return holder(ref, sheets -> replace(sheets, s -> s.id().equals(ref.sheet()), how));
    }

    /** The sheet a reference names. */
    public Optional<Sheet> sheet(SheetRef ref) {
        return OwnBlock.holds(ref.sheet()) ? library.sheet(ref.sheet()) : part(ref.part()).flatMap(p -> p.sheet(ref.sheet()));
    }

    /** An id like a name that no sheet has yet of the part, or own block, a sheet belongs to. */
    public String freshSheetId(SheetRef beside, String name) {
        String wanted = (OwnBlock.holds(beside.sheet()) ? OwnBlock.MARK + OwnBlock.owner(beside.sheet()) + "/" : "")
                + name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
        String fresh = wanted;
        for (int n = 2; hasSheet(new SheetRef(beside.part(), fresh)); n++) {
            fresh = wanted + "-" + n;
        }
        return fresh;
    }

    private boolean hasSheet(SheetRef ref) {
        return sheet(ref).isPresent();
    }

    /** The same with one more sheet in the part, or own block, another sheet belongs to. */
    public Project add(SheetRef beside, Sheet sheet) {
        return holder(beside, sheets -> Stream.concat(sheets.stream(), Stream.of(sheet)).toList());
    }

    public Project remove(SheetRef ref) {
        return holder(ref, sheets -> sheets.stream().filter(s -> !s.id().equals(ref.sheet())).toList());
    }

    /** Changes the sheets of the part, or own block, a sheet belongs to. */
    private Project holder(SheetRef ref, UnaryOperator<List<Sheet>> how) {
        if (!OwnBlock.holds(ref.sheet())) {
            return change(ref.part(), p -> p.withSheets(how.apply(p.sheets())));
        }
        return library.find(OwnBlock.owner(ref.sheet())).map(b -> withLibrary(library.with(b.withSheets(how.apply(b.sheets())))))
                .orElse(this);
    }

    /** All sheets of parts and own blocks. Those of own blocks are seen from the first part. */
    public Map<SheetRef, Sheet> sheets() {
        Map<SheetRef, Sheet> all = new LinkedHashMap<>();
        parts.forEach(p -> p.sheets().forEach(s -> all.put(new SheetRef(p.id(), s.id()), s)));
        String first = parts.isEmpty() ? "" : parts.getFirst().id();
        library.all().forEach(b -> b.sheets().forEach(s -> all.put(new SheetRef(first, s.id()), s)));
        return all;
    }

    /** The same project with each sheet of {@link #sheets} changed. */
    public Project changeAll(BiFunction<SheetRef, Sheet, Sheet> how) {
        List<Part> changed = parts.stream().map(p -> p.withSheets(p.sheets().stream()
                .map(s -> how.apply(new SheetRef(p.id(), s.id()), s)).toList())).toList();
        String first = parts.isEmpty() ? "" : parts.getFirst().id();
        Library next = library;
        for (OwnBlock b : library.all()) {
            next = next.with(b.withSheets(b.sheets().stream().map(s -> how.apply(new SheetRef(first, s.id()), s)).toList()));
        }
        return withParts(changed).withLibrary(next);
    }

    static <T> List<T> replace(List<T> list, java.util.function.Predicate<T> which, UnaryOperator<T> how) {
        List<T> next = new ArrayList<>(list);
        next.replaceAll(t -> which.test(t) ? how.apply(t) : t);
        return next;
    }
}
