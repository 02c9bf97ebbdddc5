package boldanvil.app.model;

import boldanvil.core.bench.PlcRemote;
import boldanvil.core.text.CrossReference;
import boldanvil.core.text.CrossReference.Unit;
import boldanvil.core.text.CrossReference.Use;
import boldanvil.core.text.Interlock;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import boldanvil.core.text.PlcText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** The text of a program line by line, with the values that each line names. */
public final class WatchedProgram {
    /**
     * A line.
     *
     * @param number from 1
     * @param uses names of values in it, each once
     */
    public record Line(int number, String text, List<Use> uses) {}

    /**
     * A program or one use of a function block.
     *
     * @param instance what the paths of its values begin with
     */
    public record Instance(Unit unit, String instance) {
        /** As people read it. */
        public String label() {
            return instance.isEmpty() ? unit.name() : instance.substring(0, instance.length() - 1) + "  (" + unit.name() + ")";
        }
    }

    /** A place in the text where a value is named. */
    public record Place(int line, String words) {}

    private final List<String> lines;
    private final Set<Integer> interlocks;
    private final CrossReference names;

    private WatchedProgram(List<String> lines, CrossReference names, Set<Integer> interlocks) {
        this.interlocks = interlocks;
        this.lines = lines;
        this.names = names;
    }

    /** Prepares a text; one with mistakes has no values. */
    public static WatchedProgram of(String text) {
        return new WatchedProgram(text.lines().toList(), CrossReference.of(text, PlcProgram.of(text, Surroundings.USUAL)),
                Interlock.of(text).stream().map(Interlock::line).collect(Collectors.toSet()));
    }

    /** Programs and all uses of function blocks. */
    public List<Instance> instances() {
        List<Instance> all = new ArrayList<>();
        names.units().stream().sorted(Comparator.comparing(u -> u.kind() != PlcText.Kind.PROGRAM))
                .forEach(u -> u.instances().forEach(i -> all.add(new Instance(u, i))));
        return all;
    }

    /** The lines of a unit. */
    public List<Line> lines(Instance of) {
        Map<Integer, List<Use>> byLine = names.uses(of.unit()).stream().collect(Collectors.groupingBy(Use::line));
        List<Line> all = new ArrayList<>();
        for (int i = of.unit().firstLine(); i <= Math.min(of.unit().lastLine(), lines.size()); i++) {
            Set<String> seen = new LinkedHashSet<>();
            all.add(new Line(i, lines.get(i - 1), byLine.getOrDefault(i, List.of()).stream().filter(u -> names.path(u, of.instance())
                    .filter(seen::add).isPresent()).toList()));
        }
        return all;
    }

    /** The path of a value. */
    public Optional<String> path(Use use, Instance in) {
        return names.path(use, in.instance());
    }

    /** The paths of all values that some lines name. */
    public List<String> paths(List<Line> some, Instance in) {
        return some.stream().flatMap(l -> l.uses().stream()).flatMap(u -> path(u, in).stream()).distinct().toList();
    }

    /** The values of a line as they are shown behind it. */
    public String values(Line line, Instance in, Map<String, String> values) {
        return line.uses().stream().map(u -> {
            String v = path(u, in).map(values::get).orElse(null);
            return v == null ? "" : u.name() + " = " + v;
        }).filter(s -> !s.isEmpty()).collect(Collectors.joining("    "));
    }

    /** Whether a line says under which conditions something is true. */
    public boolean isInterlock(Line line) {
        return interlocks.contains(line.number());
    }

    /** What an interlock did, as it is listed. */
    public static String words(PlcRemote.InterlockEvent e) {
        String at = String.format(java.util.Locale.ROOT, "%.3f s   ", e.seconds());
        return at + (e.by().isEmpty() ? "free" : "blocked by  " + String.join("   and  ", e.by()));
    }

    /** Paths that tell which steps of the chart of a unit are active, by the names of the steps. */
    public Map<String, String> steps(Instance in) {
        return names.uses(in.unit()).stream().filter(u -> u.name().endsWith(".X") && path(u, in).isPresent())
                .collect(Collectors.toMap(u -> u.name().substring(0, u.name().length() - 2), u -> path(u, in).orElseThrow(), (a, _) -> a));
    }

    /** Everywhere a value is named. */
    public List<Place> where(String path) {
        return names.where(path).stream().map(u -> new Place(u.line(), "line " + u.line() + ", " + u.unit().name() + ": "
                + (u.written() ? "written" : "read") + "   " + lines.get(u.line() - 1).strip())).toList();
    }
}
