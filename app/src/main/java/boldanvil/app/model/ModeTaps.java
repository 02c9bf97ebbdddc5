package boldanvil.app.model;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.lower.Names;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** Taps that hold the number of a mode chart's active step, with the names of its steps. */
public final class ModeTaps {
    private static final Pattern STEP = Pattern.compile("(?m)^\\s*(?:INITIAL_)?STEP\\s+(\\w+)\\s*:");

    /**
     * A mode chart whose active step is tapped.
     *
     * @param tap full address
     * @param chart path of the block, such as {@code modes/sequence}
     * @param steps names in the order of the text
     */
    public record Mode(String tap, String chart, List<String> steps) {
        /** The name of a step by its number, from 1. */
        public String step(double number) {
            int i = (int) Math.round(number);
            return i >= 1 && i <= steps.size() ? steps.get(i - 1) : "none";
        }
    }

    private ModeTaps() {}

    /** Those of a whole project. */
    public static List<Mode> of(Project project) {
        List<Mode> all = new ArrayList<>();
        Paths.of(project).forEach((ref, paths) -> project.sheet(ref).ifPresent(s -> paths.forEach(path -> add(s, path, all))));
        return all;
    }

    private static void add(Sheet sheet, String path, List<Mode> all) {
        for (Block b : sheet.blocks()) {
            for (Wire w : sheet.wires()) {
                if (b.type().equals("modes") && w.from().equals(b.id()) && w.fromPort().equals("active")) {
                    sheet.block(w.to()).filter(t -> t.type().equals("tap"))
                            .ifPresent(t -> all.add(new Mode(Names.addressOf(path + "/" + t.name()), path + "/" + b.name(),
                            STEP.matcher(b.settings().getOrDefault("text", "")).results().map(m -> m.group(1)).toList())));
                }
            }
        }
    }

    /**
     * Changes of mode in a stretch of a run.
     *
     * @param after only changes behind this instant
     */
    public static List<Mark> changes(List<Mode> modes, Samples samples, double after) {
        List<Mark> marks = new ArrayList<>();
        for (Mode m : modes) {
            int column = samples.indexOf(m.tap());
            if (column < 0) {
                continue;
            }
            Series s = samples.series(column, after - 1, Double.POSITIVE_INFINITY);
            for (int i = 1; i < s.size(); i++) {
                if (s.times()[i] > after && s.values()[i] != s.values()[i - 1]) {
                    marks.add(new Mark(s.times()[i], Mark.Kind.MODE, m.chart()
                            .substring(m.chart().lastIndexOf('/') + 1) + ": " + m.step(s.values()[i - 1]) + " to "
                            + m.step(s.values()[i])));
                }
            }
        }
        return marks;
    }
}
