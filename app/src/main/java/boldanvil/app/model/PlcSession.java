package boldanvil.app.model;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.PlcProcess;
import boldanvil.core.bench.PlcRemote;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.iec.StGenerator;
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
        String protocol = place.isStandIn() ? place.link() : place.link().substring(0, place.link().indexOf(':'));
        var tags = PartTags.of(program, protocol);
        List<Row> rows = new ArrayList<>();
        for (Port p : program.ports()) {
            Bound b = (p.isInput() ? tags.inputs() : tags.outputs()).stream().filter(x -> x.slot() == p.slot()).findFirst().orElseThrow();
            rows.add(row(p.name(), p.isInput() ? "input" : "output", b));
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

    /** The text a part has on its PLC. */
    public static String text(Review review, String rig, String part) {
        Program program = review.system().program(part).orElseThrow();
        return StGenerator.of(program, PartTags.of(program, review.rig(rig).place(part).link()).addresses()).text();
    }

    /** The PLC of a part while it runs on a stand-in. */
    public static Optional<PlcRemote> remote(Optional<LiveRun> run, String part) {
        return run.filter(r -> r instanceof BenchRun).flatMap(r -> ((BenchRun) r).plc(part)).map(PlcProcess::remote);
    }

    /** Asks for values and the state of a PLC. */
    public static Live read(PlcRemote plc, List<Row> rows) {
        var status = plc.status();
        return new Live(status.mode(), status.reason(), shown(plc.read(rows.stream().map(Row::path).toList())), shown(status.forces()),
                status.tasks());
    }

    private static Map<String, String> shown(Map<String, Object> values) {
        Map<String, String> texts = new LinkedHashMap<>();
        values.forEach((path, v) -> texts.put(path, switch (v) {
            case Boolean b -> b ? "TRUE" : "FALSE";
            case Double d -> String.format(Locale.ROOT, "%.5g", d);
            default -> v.toString();
        }));
        return texts;
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
