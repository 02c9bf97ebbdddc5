package boldanvil.app.model;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.PlcProcess;
import boldanvil.core.bench.PlcRemote;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import boldanvil.core.tags.PartTags;
import boldanvil.core.tags.PartTags.Bound;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The parts of a rig that run on a PLC: their tags with their live values, forced values, and changes of the running program. */
public final class PlcSession {
    /**
     * A tag of a part.
     *
     * @param use what it is for the part: input, output, tunable or signal
     * @param path of the variable in the PLC
     * @param address how the link names it
     * @param unit SI, empty for none
     */
    public record Row(String name, String use, TagType type, String path, String address, String unit) {
        /** Whether a text is found in what people know of it. */
        boolean has(String text) {
            return (name + " " + use + " " + path + " " + address).toLowerCase(Locale.ROOT).contains(text);
        }
    }

    /**
     * What a PLC says.
     *
     * @param values by path, as they are shown
     * @param forces by path
     */
    public record Live(String mode, String reason, Map<String, String> values, Map<String, String> forces, List<PlcRemote.Task> tasks) {
        /** Nothing is known yet. */
        public static final Live NONE = new Live("", "", Map.of(), Map.of(), List.of());
    }

    private PlcSession() {}

    /** The parts of a rig that run on a PLC. */
    public static List<String> parts(Review review, String rig) {
        return review.project().rig(rig).map(r -> r.places().entrySet().stream().filter(e -> e.getValue().mode() == Rig.Mode.PLC)
                .map(Map.Entry::getKey).filter(p -> review.system().program(p).isPresent()).toList()).orElse(List.of());
    }

    /** The tags of a part; ports first. */
    public static List<Row> rows(Review review, String rig, String part) {
        Program program = review.system().program(part).orElseThrow();
        Rig.Place place = review.rig(rig).place(part);
        var tags = PartTags.of(program, place, review.project().tagTable(part));
        List<Row> rows = new ArrayList<>();
        for (Port p : program.ports()) {
            (p.isInput() ? tags.inputs() : tags.outputs()).stream().filter(x -> x.slot() == p.slot()).findFirst()
                    .ifPresent(b -> rows.add(row(p.name(), p.isInput() ? "input" : "output", b)));
        }
        program.tunables().forEach(t -> tags.tunables().stream().filter(b -> b.slot() == t.slot()).findFirst()
                .ifPresent(b -> rows.add(row(t.name(), "tunable", b))));
        program.taps().forEach(t -> tags.taps().stream().filter(b -> b.slot() == t.slot()).findFirst()
                .ifPresent(b -> rows.add(row(t.name(), "signal", b))));
        return rows;
    }

    private static Row row(String name, String use, Bound b) {
        return new Row(name, use, b.tag().type(), b.path(), b.tag().address(), b.slot().unit());
    }

    /** Those in which a text is found; all for an empty text. */
    public static List<Row> filtered(List<Row> rows, String text) {
        String wanted = text.strip().toLowerCase(Locale.ROOT);
        return wanted.isEmpty() ? rows : rows.stream().filter(r -> r.has(wanted)).toList();
    }

    /** The text a part has on its PLC: in a rig the one that rig runs, else the PLC's own; empty for none. */
    public static String program(Review review, String rig, String part) {
        var own = review.project().tagTable(part);
        return parts(review, rig).contains(part) ? PartTags.text(review.system().program(part).orElseThrow(), review.rig(rig).place(part),
                own)
                : own.program();
    }

    /** Whether a part has a program of the PLC's own, or at least its tags. */
    public static boolean isOwn(Project project, String part) {
        return !project.tagTable(part).isEmpty();
    }

    /** The PLC of a part while it runs on a stand-in. */
    public static Optional<PlcRemote> remote(Optional<LiveRun> run, String part) {
        return run.filter(r -> r instanceof BenchRun).flatMap(r -> ((BenchRun) r).plc(part)).map(PlcProcess::remote);
    }

    /** Asks for values and the state of a PLC. */
    public static Live read(PlcRemote plc, List<Row> rows) {
        var status = plc.status();
        return new Live(status.mode(), status.reason(), values(plc, rows.stream().map(Row::path).toList()), shown(status.forces()),
                status.tasks());
    }

    /** Asks for values, as they are shown, by path. */
    public static Map<String, String> values(PlcRemote plc, List<String> paths) {
        return shown(plc.read(paths));
    }

    /** The state of a PLC in a sentence. */
    public static String words(Live now) {
        var text = new StringBuilder(now.mode().equals("RUN") ? "The PLC runs." : "The PLC is in " + now.mode() + ".");
        if (!now.reason().isEmpty()) {
            text.append(' ').append(now.reason());
        }
        now.tasks().forEach(t -> text.append(String.format(Locale.ROOT,
                "   Task %s every %.4g ms: %d scans, %d overruns, %.0f µs a scan, longest %.0f µs.", t.name(), t.interval() * 1e3,
                        t.scans(),
                t.overruns(), t.mean() * 1e6, t.longest() * 1e6)));
        return text.toString();
    }

    private static Map<String, String> shown(Map<String, Object> values) {
        Map<String, String> texts = new LinkedHashMap<>();
        values.forEach((path, v) -> texts.put(path, shown(v)));
        return texts;
    }

    /** A value as it is shown. */
    public static String shown(Object value) {
        return switch (value) {
            case Boolean b -> b ? "TRUE" : "FALSE";
            case Double d -> String.format(Locale.ROOT, "%.5g", d);
            default -> value.toString();
        };
    }

    /** The address of the real PLC a part is on; empty for none. */
    public static String address(Project project, String rig, String part) {
        return project.rig(rig).map(r -> r.place(part)).filter(p -> p.mode() == Rig.Mode.PLC && !p.isStandIn()).map(Rig.Place::link)
                .orElse("");
    }

    /** Where a PLC answers, and how to sign in. */
    public record Reach(Endpoint at, Access access) {}

    /** How the stand-in of a part is reached while it runs. */
    public static Optional<Reach> reach(Optional<LiveRun> run, String rig, String part) {
        return run.filter(r -> r instanceof BenchRun).flatMap(r -> ((BenchRun) r).plc(part).map(plc -> {
            boolean modbus = r.review().rig(rig).place(part).protocol().equals(PartTags.MODBUS);
            return new Reach(modbus ? plc.modbus() : plc.opcUa(), plc.access());
        }));
    }

    /**
     * A value of a tag as it was typed: TRUE or FALSE, or a number.
     *
     * @throws FindingException when it is none
     */
    public static Object value(Row row, String text) {
        String t = text.strip();
        if (row.type() == TagType.BOOL) {
            if (t.equalsIgnoreCase("TRUE") || t.equals("1")) {
                return true;
            }
            if (t.equalsIgnoreCase("FALSE") || t.equals("0")) {
                return false;
            }
            throw FindingException.of(Place.named(row.name()), "'" + text + "' is neither TRUE nor FALSE.", "Type one of the two.");
        }
        try {
            double v = Double.parseDouble(t.replace('−', '-'));
            return v == Math.rint(v) && row.type() != TagType.REAL && row.type() != TagType.LREAL ? (Object) (long) v : (Object) v;
        } catch (NumberFormatException e) {
            throw FindingException.of(Place.named(row.name()), "'" + text + "' is not a number.", "Type a number of the tag's type.");
        }
    }
}
