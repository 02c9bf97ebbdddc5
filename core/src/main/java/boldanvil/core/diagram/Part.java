package boldanvil.core.diagram;

import java.util.List;
import java.util.Optional;

/**
 * A top-level piece of the system sheet.
 *
 * @param id an identifier; prefix of its C names and first word of its signal addresses
 * @param title what the sheet shows
 * @param kind controller or plant
 * @param sampleTime expression for the default sample time of its blocks, or {@code continuous}
 * @param step expression for the solver's step; counts only with continuous blocks
 * @param solver {@code euler} or {@code rk4}
 * @param real {@code float64} or {@code float32}: the type of its real numbers
 * @param sheets the first is the part's own; the others are bodies of subsystems
 * @param look how it is drawn on the system sheet, where that was chosen
 * @param library the own blocks its sheets may use; the project it belongs to provides them
 */
public record Part(String id, String title, Kind kind, String sampleTime, String step, String solver, String real,
        double x, double y, List<Sheet> sheets, Look look, Library library) {
    /** What a part is for. */
    public enum Kind { CONTROLLER, PLANT }

    public Part {
        sheets = List.copyOf(sheets);
        if (sheets.isEmpty()) {
            throw new IllegalArgumentException("Part " + id + " has no sheet");
        }
    }

    public Part(String id, String title, Kind kind, String sampleTime, String step, String solver, String real, double x, double y,
            List<Sheet> sheets, Look look) {
        this(id, title, kind, sampleTime, step, solver, real, x, y, sheets, look, Library.EMPTY);
    }

    public Part(String id, String title, Kind kind, String sampleTime, String step, String solver, String real, double x, double y,
            List<Sheet> sheets) {
        this(id, title, kind, sampleTime, step, solver, real, x, y, sheets, Look.PLAIN);
    }

    /** Its own sheet. */
    public Sheet main() {
        return sheets.getFirst();
    }

    /** A sheet of the part, or of an own block. */
    public Optional<Sheet> sheet(String sheetId) {
        return OwnBlock.holds(sheetId) ? library.sheet(sheetId) : sheets.stream().filter(s -> s.id().equals(sheetId)).findFirst();
    }

    /** The same part with another step of its solver. */
    public Part withStep(String next) {
        return new Part(id, title, kind, sampleTime, next, solver, real, x, y, sheets, look, library);
    }

    public Part withSheets(List<Sheet> next) {
        return new Part(id, title, kind, sampleTime, step, solver, real, x, y, next, look, library);
    }

    /** The same with another step of its solver. */
    public Part stepping(String other) {
        return new Part(id, title, kind, sampleTime, other, solver, real, x, y, sheets, look, library);
    }

    public Part at(double nx, double ny) {
        return new Part(id, title, kind, sampleTime, step, solver, real, nx, ny, sheets, look, library);
    }

    public Part titled(String next) {
        return new Part(id, next, kind, sampleTime, step, solver, real, x, y, sheets, look, library);
    }

    /** The same drawn in another way. */
    public Part looking(Look next) {
        return new Part(id, title, kind, sampleTime, step, solver, real, x, y, sheets, next, library);
    }

    /** The same with other own blocks. */
    Part with(Library next) {
        return next == library ? this : new Part(id, title, kind, sampleTime, step, solver, real, x, y, sheets, look, next);
    }
}
