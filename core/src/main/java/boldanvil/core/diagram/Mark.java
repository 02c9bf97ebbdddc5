package boldanvil.core.diagram;

/**
 * A frame or a note on a sheet. It explains; it computes nothing.
 *
 * @param id stable within the sheet
 * @param text title of a frame, or text of a note
 * @param x left edge in sheet units
 * @param y top edge
 * @param link a file within the project, or a web address, that it leads to; empty for none
 */
public record Mark(String id, Kind kind, String text, double x, double y, double width, double height, String link) {
    /** What a mark is. */
    public enum Kind { FRAME, NOTE }

    public Mark identified(String nextId) {
        return new Mark(nextId, kind, text, x, y, width, height, link);
    }

    public Mark at(double nx, double ny) {
        return new Mark(id, kind, text, nx, ny, width, height, link);
    }

    public Mark sized(double w, double h) {
        return new Mark(id, kind, text, x, y, w, h, link);
    }

    public Mark saying(String next) {
        return new Mark(id, kind, next, x, y, width, height, link);
    }

    public Mark linked(String next) {
        return new Mark(id, kind, text, x, y, width, height, next);
    }
}
