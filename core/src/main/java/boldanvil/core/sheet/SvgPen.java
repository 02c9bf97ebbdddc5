package boldanvil.core.sheet;

import boldanvil.core.escape.Escape;
import boldanvil.core.sheet.SheetScene.Point;
import java.util.List;
import java.util.Locale;

/** Draws into an SVG file (W3C SVG 1.1). */
final class SvgPen implements Pen {
    private static final String SANS = "IBM Plex Sans, sans-serif";
    private static final String MONO = "IBM Plex Mono, monospace";

    private final StringBuilder out = new StringBuilder();
    private final FontWidths fonts;
    private final boolean night;

    /** @param fonts for the widths of texts */
    SvgPen(FontWidths fonts, boolean night, Box frame) {
        this.fonts = fonts;
        this.night = night;
        add("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.0f\" height=\"%.0f\" viewBox=\"%.1f %.1f %.1f %.1f\">%n", frame.width(),
                frame.height(), frame.x(), frame.y(), frame.width(), frame.height());
        add("<rect x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\" fill=\"%s\"/>%n", frame.x(), frame.y(), frame.width(),
                frame.height(),
                Ink.PAPER.hex(night));
    }

    private void add(String format, Object... values) {
        out.append(String.format(Locale.ROOT, format, values));
    }

    private String paint(Ink fill, Stroke edge) {
        String inside = fill == null ? "fill=\"none\"" : "fill=\"" + fill.hex(night) + "\"";
        return edge == null ? inside : inside + String.format(Locale.ROOT, " stroke=\"%s\" stroke-width=\"%.2f\"%s", edge.ink().hex(night),
                edge.width(), edge.dashed() ? " stroke-dasharray=\"5 3\"" : "");
    }

    @Override
    public void line(List<Point> points, double rounding, Stroke stroke) {
        out.append("<polyline points=\"");
        points.forEach(p -> add("%.1f,%.1f ", p.x(), p.y()));
        out.append("\" stroke-linejoin=\"round\" ").append(paint(null, stroke)).append("/>\n");
    }

    @Override
    public void box(double x, double y, double width, double height, double rounding, Ink fill, Stroke edge) {
        add("<rect x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\" rx=\"%.1f\" %s/>%n", x, y, width, height, rounding,
                paint(fill, edge));
    }

    @Override
    public void circle(double x, double y, double radius, Ink fill, Stroke edge) {
        add("<circle cx=\"%.1f\" cy=\"%.1f\" r=\"%.1f\" %s/>%n", x, y, radius, paint(fill, edge));
    }

    @Override
    public void polygon(List<Point> points, Ink fill) {
        out.append("<polygon points=\"");
        points.forEach(p -> add("%.1f,%.1f ", p.x(), p.y()));
        out.append("\" ").append(paint(fill, null)).append("/>\n");
    }

    @Override
    public void text(String text, double x, double y, double align, Lettering lettering, double size, Ink ink) {
        add("<text x=\"%.1f\" y=\"%.1f\" font-family=\"%s\" font-size=\"%.1f\"%s text-anchor=\"%s\" fill=\"%s\">", x, y + size * BASELINE,
                lettering == Lettering.MONO ? MONO : SANS, size, lettering == Lettering.BOLD ? " font-weight=\"600\"" : "",
                align == 0 ? "start" : align == 1 ? "end" : "middle", ink.hex(night));
        out.append(Escape.xml(text)).append("</text>\n");
    }

    @Override
    public double width(String text, Lettering lettering, double size) {
        return fonts.width(text, lettering, size);
    }

    String done() {
        return out.append("</svg>\n").toString();
    }
}
