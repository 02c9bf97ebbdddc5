package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.iec.PlcOpenReader;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.TagType;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import boldanvil.core.text.PlcProgram.Variable;
import boldanvil.core.text.PlcText;
import boldanvil.core.text.PlcText.Block;
import boldanvil.core.text.PlcText.Declared;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/** Where tags come from: the declarations of a program, exchange files, and what a device names. */
public final class TagSources {
    private TagSources() {}

    /**
     * Tags with the program that declares them.
     *
     * @param remarks what was not understood
     */
    public record Result(List<Line> lines, String program, List<String> remarks) {}

    /**
     * The tags a program declares: its global variables and those of its programs, but not the memory of function blocks in them.
     *
     * @param place of the text, for findings
     * @throws FindingException when the text has mistakes
     */
    public static Result ofText(String text, Place place) {
        var plc = PlcProgram.of(text, Surroundings.USUAL);
        if (!plc.isUsable()) {
            throw new FindingException(plc.mistakes().stream().filter(m -> !m.isWarning()).limit(20)
                    .map(m -> Finding.error(place, m.located(), m.cure())).toList());
        }
        var declared = new Declarations(PlcText.of(text));
        List<Line> lines = new ArrayList<>();
        for (Variable v : plc.variables()) {
            if (!v.isInternal()) {
                declared.line(v).ifPresent(lines::add);
            }
        }
        return new Result(lines, text, List.of());
    }

    /** As {@link #ofText}, from an exchange file of PLCopen. */
    public static Result ofExchange(String xml, Place place) {
        var read = PlcOpenReader.read(xml, place);
        var result = ofText(read.text(), place);
        return new Result(result.lines(), result.program(), read.remarks());
    }

    /**
     * The tags a device names.
     *
     * @param place of the device, for findings
     * @throws FindingException when it names none, does not answer, or browsing is cancelled
     */
    public static List<Line> ofDevice(DeviceLink link, Place place, BooleanSupplier cancelled) {
        if (!link.capabilities().contains(DeviceLink.Capability.BROWSE)) {
            throw FindingException.of(place, "The device does not name its tags.", "Import them from a file.");
        }
        return link.browse(cancelled).stream().map(t -> new Line(t.name(), t.type().name(), t.address(), "", 1, 0,
                t.writable() ? Direction.BOTH : Direction.OUT, "", t.comment())).toList();
    }

    /** The type of the tag for a variable. */
    public static TagType type(Variable v) {
        return v.isText() ? TagType.STRING : TagType.named(v.type()).orElseGet(() -> TagType.of(v.carried()));
    }

    /** What a text states about its variables beside their types. */
    private static final class Declarations {
        private record Known(String kind, Declared declared) {}

        private final Map<String, Known> byPath = new HashMap<>();
        private final Set<String> types = new HashSet<>();

        Declarations(PlcText text) {
            text.types().forEach(t -> types.add(t.name().toUpperCase(Locale.ROOT)));
            text.globals().forEach(b -> add("", b));
            text.configuration().ifPresent(c -> c.globals().forEach(b -> add("", b)));
            for (var p : text.pous()) {
                var uses = text.configuration().stream().flatMap(c -> c.uses().stream())
                        .filter(u -> u.program().equalsIgnoreCase(p.name())).map(PlcText.Use::name).toList();
                if (p.kind() == PlcText.Kind.PROGRAM) {
                    for (String use : uses.isEmpty() ? List.of(p.name()) : uses) {
                        p.variables().forEach(b -> add(use + ".", b));
                    }
                }
            }
        }

        private void add(String prefix, Block block) {
            block.variables().forEach(d -> byPath.put((prefix + d.name()).toLowerCase(Locale.ROOT), new Known(block.kind(), d)));
        }

        /** The tag of a variable; empty for the memory of a function block. */
        Optional<Line> line(Variable v) {
            String path = v.path().toLowerCase(Locale.ROOT);
            Known known = null;
            for (int end = path.length(); end > 0 && known == null; end = Math.max(path.lastIndexOf('.', end - 1),
                    path.lastIndexOf('[', end - 1))) {
                known = byPath.get(path.substring(0, end));
            }
            if (known != null && !isData(known.declared().type())) {
                return Optional.empty();
            }
            return Optional.of(new Line(v.path(), type(v).name(), v.address(), "", 1, 0, direction(v, known), "",
                    known == null ? "" : known.declared().comment()));
        }

        private boolean isData(String type) {
            String element = type.replaceAll("(?is)^.*\\bOF\\b", "").strip().toUpperCase(Locale.ROOT);
            return TagType.named(element).isPresent() || types.contains(element) || element.startsWith("STRUCT") || element.startsWith("(");
        }

        private static Direction direction(Variable v, Known known) {
            String area = v.address().toUpperCase(Locale.ROOT);
            String kind = known == null ? "" : known.kind();
            return area.startsWith("%I") || kind.equals("VAR_INPUT") ? Direction.IN
                    : area.startsWith("%Q") || kind.equals("VAR_OUTPUT") ? Direction.OUT : Direction.BOTH;
        }
    }
}
