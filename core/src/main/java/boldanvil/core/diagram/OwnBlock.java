package boldanvil.core.diagram;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A block made of a sheet, which a project uses like one of the stock. A use is a subsystem whose sheet is {@link #mainSheet()}; all uses
 * share the sheets, and each has values of its own for the parameters.
 *
 * @param id an identifier; name of its file
 * @param title what people call it
 * @param help what it computes, and what its parameters mean
 * @param caption what its plate reads; {@code {name}} stands for the text of a parameter. Empty for none
 * @param curve formula of {@code u} and the parameters whose graph its plate shows; empty for none
 * @param curveFrom value of {@code u} at the left end of the curve, a formula of the parameters
 * @param curveTo value at the right end
 * @param parameters names that formulas on its sheets may use
 * @param sheets the first is its own; the others are bodies of subsystems within. Their ids begin with {@code @}
 */
public record OwnBlock(String id, String title, String help, String caption, String curve, String curveFrom, String curveTo,
        List<Parameter> parameters, List<Sheet> sheets) {
    /** What ids of sheets of own blocks begin with. */
    public static final String MARK = "@";

    /**
     * A parameter.
     *
     * @param name as in formulas
     * @param value its default, a formula
     * @param unit that of a bare number; empty where any kind will do
     * @param note what it is, for people
     */
    public record Parameter(String name, String value, String unit, String note) {
        public Parameter valued(String next) {
            return new Parameter(name, next, unit, note);
        }
    }

    public OwnBlock {
        parameters = List.copyOf(parameters);
        sheets = List.copyOf(sheets);
        if (sheets.isEmpty()) {
            throw new IllegalArgumentException("Own block " + id + " has no sheet");
        }
    }

    /** The id of its own sheet. */
    public String mainSheet() {
        return MARK + id;
    }

    /** Whether a sheet's id is one of an own block. */
    public static boolean holds(String sheetId) {
        return sheetId.startsWith(MARK);
    }

    /** The id of the own block a sheet belongs to. */
    public static String owner(String sheetId) {
        int end = sheetId.indexOf('/');
        return sheetId.substring(MARK.length(), end < 0 ? sheetId.length() : end);
    }

    public Optional<Sheet> sheet(String sheetId) {
        return sheets.stream().filter(s -> s.id().equals(sheetId)).findFirst();
    }

    public Optional<Parameter> parameter(String name) {
        return parameters.stream().filter(p -> p.name().equals(name)).findFirst();
    }

    /** The same under another id; uses of its own sheets within it follow. */
    public OwnBlock identified(String next) {
        return new OwnBlock(next, title, help, caption, curve, curveFrom, curveTo, parameters, sheets.stream().map(s -> new Sheet(
                identified(s.id(), next), s.blocks().stream().map(b -> sheet(b.inner()).isPresent()
                ? b.with("sheet", identified(b.inner(), next)) : b).toList(), s.wires(), s.marks())).toList());
    }

    /** The id one of its sheets has under another id of the block. */
    public String identified(String sheetId, String next) {
        return MARK + next + sheetId.substring(mainSheet().length());
    }

    /** The names of its parameters. */
    public Set<String> names() {
        return parameters.stream().map(Parameter::name).collect(Collectors.toUnmodifiableSet());
    }

    /** The same under another id; its sheets are left as they are. */
    public OwnBlock withId(String next) {
        return new OwnBlock(next, title, help, caption, curve, curveFrom, curveTo, parameters, sheets);
    }

    public OwnBlock withParameters(List<Parameter> next) {
        return new OwnBlock(id, title, help, caption, curve, curveFrom, curveTo, next, sheets);
    }

    public OwnBlock withSheets(List<Sheet> next) {
        return new OwnBlock(id, title, help, caption, curve, curveFrom, curveTo, parameters, next);
    }
}
