package boldanvil.app.model;

import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.export.PlcOpen;
import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Tag;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import boldanvil.core.tags.Binder;
import boldanvil.core.tags.Conversion;
import boldanvil.core.tags.Signal;
import boldanvil.core.tags.Skeleton;
import boldanvil.core.tags.TagAddress;
import boldanvil.core.tags.TagFile;
import boldanvil.core.tags.TagPorts;
import boldanvil.core.tags.TagSources;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;

/** The tags of one part and what they are bound to, as tables, and every edit of them as the next table. */
public final class TagBindings {
    private static final long MOST_BYTES = 64L << 20;
    private static final long LEAST_INTERVAL_NANOS = 1_000_000;

    /**
     * A port, tunable or signal with its whole way.
     *
     * @param tag it is bound to; empty for none
     * @param address by which the link knows the tag
     * @param conversion in words
     * @param problem why it cannot be bound so; empty where it can
     */
    public record SignalRow(Signal signal, String tag, String address, String conversion, String problem) {
        /** Whether a text is found in what people know of it. */
        boolean has(String text) {
            return (signal.name() + " " + signal.use().label() + " " + tag + " " + address).toLowerCase(Locale.ROOT).contains(text);
        }
    }

    /**
     * A tag.
     *
     * @param index in the table
     * @param bound what is bound to it
     */
    public record TagRow(int index, Line line, String bound) {
        /** Whether a text is found in what people know of it. */
        boolean has(String text) {
            return (line.name() + " " + line.type() + " " + line.address() + " " + line.comment() + " " + bound).toLowerCase(Locale.ROOT)
                    .contains(text);
        }
    }

    /**
     * What an import gives.
     *
     * @param remarks what was left out
     */
    public record Imported(TagTable table, List<String> remarks) {}

    private final Part part;
    private final Program program;
    private final TagTable table;
    private final String protocol;

    private TagBindings(Part part, Program program, TagTable table, String protocol) {
        this.part = part;
        this.program = program;
        this.table = table;
        this.protocol = protocol;
    }

    /** The same part with another table. */
    public TagBindings with(TagTable other) {
        return new TagBindings(part, program, other, protocol);
    }

    /** Those of a part; empty where its sheet cannot be compiled. */
    public static Optional<TagBindings> of(Review review, String rig, String part) {
        var project = review.project();
        var place = project.rig(rig).map(r -> r.place(part)).orElse(Rig.Place.MODEL);
        return project.part(part).flatMap(p -> review.system().program(part).map(program -> new TagBindings(p, program,
                project.tagTable(part), place.mode() == Rig.Mode.PLC ? place.protocol() : "opcua")));
    }

    /** The parts that have tags, or run on a PLC in some rig, or could: all whose sheets can be compiled, those first. */
    public static List<String> parts(Review review, String rig) {
        Predicate<String> uses = p -> !review.project().tagTable(p).isEmpty() || review.project().rigs().stream().anyMatch(r ->
                r.place(p).mode() == Rig.Mode.PLC);
        List<String> all = review.project().parts().stream().map(Part::id).filter(p -> review.system().program(p).isPresent()).toList();
        List<String> sorted = new ArrayList<>(PlcSession.parts(review, rig));
        all.stream().filter(uses).filter(p -> !sorted.contains(p)).forEach(sorted::add);
        all.stream().filter(p -> !sorted.contains(p)).forEach(sorted::add);
        return sorted;
    }

    public TagTable table() {
        return table;
    }

    public String part() {
        return part.id();
    }

    /** All that can be bound, ports first. */
    public List<SignalRow> signals(String filter) {
        String wanted = filter.strip().toLowerCase(Locale.ROOT);
        var lines = table.byName();
        return Signal.of(program).stream().map(s -> row(s, lines)).filter(r -> wanted.isEmpty() || r.has(wanted)).toList();
    }

    private SignalRow row(Signal s, Map<String, Line> lines) {
        String tag = table.bindings().getOrDefault(s.name(), "");
        var line = lines.get(tag);
        if (line == null) {
            return new SignalRow(s, tag, "", "", tag.isEmpty() ? "" : "There is no tag of this name.");
        }
        var c = Conversion.of(s, line);
        return new SignalRow(s, tag, TagAddress.of(line, protocol).address(), c.text(), c.cause());
    }

    /** All tags. */
    public List<TagRow> tags(String filter) {
        String wanted = filter.strip().toLowerCase(Locale.ROOT);
        Map<String, String> bound = new HashMap<>();
        table.bindings().forEach((signal, tag) -> bound.merge(tag.toLowerCase(Locale.ROOT), signal, (a, b) -> a + ", " + b));
        List<TagRow> rows = new ArrayList<>();
        for (int i = 0; i < table.lines().size(); i++) {
            Line l = table.lines().get(i);
            var row = new TagRow(i, l, bound.getOrDefault(l.name().toLowerCase(Locale.ROOT), ""));
            if (wanted.isEmpty() || row.has(wanted)) {
                rows.add(row);
            }
        }
        return rows;
    }

    /** How many ports there are, and how many of them have a tag. */
    public String summary() {
        var ports = Signal.of(program).stream().filter(Signal::isPort).toList();
        long bound = ports.stream().filter(s -> table.bindings().containsKey(s.name())).count();
        return bound + " of " + ports.size() + " ports have a tag, " + table.lines().size() + " tags.";
    }

    /** With one signal on a tag; an empty name frees it. */
    public TagTable bound(String signal, String tag) {
        Map<String, String> next = new LinkedHashMap<>(table.bindings());
        if (tag.isEmpty()) {
            next.remove(signal);
        } else {
            next.put(signal, tag);
        }
        return table.withBindings(next);
    }

    /** With some signals free. */
    public TagTable unbound(List<SignalRow> rows) {
        Map<String, String> next = new LinkedHashMap<>(table.bindings());
        rows.forEach(r -> next.remove(r.signal().name()));
        return table.withBindings(next);
    }

    /** All tags as a link over a protocol knows them. */
    public List<Tag> asTags(String over) {
        return table.lines().stream().map(l -> TagAddress.of(l, over)).toList();
    }

    /** With each free signal on the tag a rule names. */
    public TagTable boundByRule(String rule) {
        return table.withBindings(binder().byRule(part.id(), rule));
    }

    /** With each free signal on the tag of its own name. */
    public TagTable boundBySameNames() {
        return table.withBindings(binder().sameNames());
    }

    /** Tags that could be meant for signals that have none. */
    public List<Binder.Suggestion> suggestions() {
        return binder().suggest();
    }

    /** With suggestions accepted. */
    public TagTable accepted(List<Binder.Suggestion> some) {
        Map<String, String> next = new LinkedHashMap<>(table.bindings());
        some.forEach(s -> next.put(s.port(), s.tag()));
        return table.withBindings(next);
    }

    private Binder binder() {
        return new Binder(Signal.of(program), table);
    }

    /** With another line in the place of one; what was bound to it follows its name. */
    public TagTable changed(int index, Line line) {
        List<Line> lines = new ArrayList<>(table.lines());
        String former = lines.set(index, line).name();
        Map<String, String> next = new LinkedHashMap<>();
        table.bindings().forEach((signal, tag) -> next.put(signal, tag.equalsIgnoreCase(former) ? line.name() : tag));
        return new TagTable(lines, next, table.program());
    }

    /** With some tags removed; what was bound to them is free. */
    public TagTable without(List<TagRow> rows) {
        Set<String> names = new TreeSet<>(String.CASE_INSENSITIVE_ORDER);
        rows.forEach(r -> names.add(r.line().name()));
        Map<String, String> next = new LinkedHashMap<>(table.bindings());
        next.values().removeIf(names::contains);
        return new TagTable(table.lines().stream().filter(l -> !names.contains(l.name())).toList(), next, table.program());
    }

    /**
     * Reads tags from a file: CSV, Structured Text or an exchange file of PLCopen. Tags of the same name are replaced, and their bindings
     * stay; a program becomes the one that the stand-in runs.
     *
     * @throws boldanvil.core.finding.FindingException when the file cannot be read
     */
    public Imported imported(Path file) {
        String name = file.getFileName().toString();
        String text = SafeFile.text(file, MOST_BYTES);
        String ending = name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
        if (ending.equals("csv") || ending.equals("txt")) {
            var read = TagFile.read(text, name);
            Map<String, String> bindings = new LinkedHashMap<>(table.bindings());
            bindings.putAll(read.bindings());
            return new Imported(new TagTable(merged(read.lines()), bindings, table.program()), read.findings().stream()
                    .map(Finding::toString)
                    .toList());
        }
        var read = ending.equals("xml") ? TagSources.ofExchange(text, Place.named(name)) : TagSources.ofText(text, Place.named(name));
        return new Imported(new TagTable(merged(read.lines()), table.bindings(), read.program()), read.remarks());
    }

    /** With tags that were read; those of the same name are replaced. */
    public TagTable withTags(List<Line> browsed) {
        return table.withLines(merged(browsed));
    }

    private List<Line> merged(List<Line> read) {
        Map<String, Line> all = new LinkedHashMap<>();
        table.lines().forEach(l -> all.put(l.name().toLowerCase(Locale.ROOT), l));
        for (Line l : read) {
            // What people added to a tag stays when its declaration is read again.
            all.merge(l.name().toLowerCase(Locale.ROOT), l, (old, now) -> now.unit().isEmpty() && !now.isScaled()
                    ? new Line(now.name(), now.type(), now.address().isEmpty() ? old.address() : now.address(), old.unit(), old.factor(),
                            old.offset(), now.direction() == Direction.BOTH ? old.direction() : now.direction(),
                            now.rate().isEmpty() ? old.rate() : now.rate(), now.comment().isEmpty() ? old.comment() : now.comment())
                    : now);
        }
        return List.copyOf(all.values());
    }

    /** A program with declarations, task and comments for what is bound to this part. */
    public String skeleton() {
        return Skeleton.of(program, part.kind(), Math.max(program.tickNanos(), LEAST_INTERVAL_NANOS));
    }

    /** The skeleton as an exchange file of PLCopen. */
    public String skeletonXml() {
        return PlcOpen.xml(skeleton(), part.id());
    }

    /** With the skeleton as the program that the stand-in runs, its tags, and each port bound to its own. */
    public TagTable withSkeleton() {
        String text = skeleton();
        var tags = withTags(TagSources.ofText(text, Place.tags(part.id(), "")).lines());
        return part.kind() == Part.Kind.CONTROLLER ? with(tags.withProgram(text)).boundBySameNames()
                : tags.withProgram(text);
    }

    /** The project with a port on this part's sheet for each of some tags, bound to it. */
    public Project withPorts(Project project, List<TagRow> rows) {
        return TagPorts.add(project, part.id(), rows.stream().map(TagRow::line).toList());
    }
}
