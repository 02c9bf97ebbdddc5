package boldanvil.core.sheet;

import boldanvil.core.report.PdfText;
import boldanvil.core.sheet.SheetScene.Point;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.font.PDFont;

/** Draws on a page of a PDF file. */
final class PdfPen implements Pen {
    /** Share of a quarter circle's radius at which the control points of a cubic curve lie (Goldapp, CAGD 8, 1991). */
    private static final double ARC = 0.5519;

    private final PDPageContentStream out;
    private final PDFont plain;
    private final PDFont bold;
    private final PDFont mono;
    private final double left;
    private final double bottom;

    /**
     * @param left x of the left edge of the page in sheet units
     * @param bottom y of its lower edge
     */
    PdfPen(PDPageContentStream out, PDFont plain, PDFont bold, PDFont mono, double left, double bottom) {
        this.out = out;
        this.plain = plain;
        this.bold = bold;
        this.mono = mono;
        this.left = left;
        this.bottom = bottom;
    }

    /** Something that writes to the page. */
    private interface Writing {
        void run() throws IOException;
    }

    private static void write(Writing w) {
        try {
            w.run();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private float x(double v) {
        return (float) (v - left);
    }

    private float y(double v) {
        return (float) (bottom - v);
    }

    private static float[] rgb(Ink ink) {
        int c = Integer.parseInt(ink.hex(false).substring(1), 16);
        return new float[] {(c >> 16) / 255f, (c >> 8 & 0xFF) / 255f, (c & 0xFF) / 255f};
    }

    private void stroke(Stroke s) throws IOException {
        float[] c = rgb(s.ink());
        out.setStrokingColor(c[0], c[1], c[2]);
        out.setLineWidth((float) s.width());
        out.setLineDashPattern(s.dashed() ? new float[] {5, 3} : new float[0], 0);
    }

    private void fill(Ink ink) throws IOException {
        float[] c = rgb(ink);
        out.setNonStrokingColor(c[0], c[1], c[2]);
    }

    @Override
    public void line(List<Point> points, double rounding, Stroke stroke) {
        write(() -> {
            stroke(stroke);
            out.moveTo(x(points.getFirst().x()), y(points.getFirst().y()));
            for (Point p : points.subList(1, points.size())) {
                out.lineTo(x(p.x()), y(p.y()));
            }
            out.setLineJoinStyle(1);
            out.stroke();
        });
    }

    @Override
    public void box(double bx, double by, double width, double height, double rounding, Ink fill, Stroke edge) {
        write(() -> {
            if (fill != null) {
                fill(fill);
                outline(bx, by, width, height, rounding);
                out.fill();
            }
            if (edge != null) {
                stroke(edge);
                outline(bx, by, width, height, rounding);
                out.stroke();
            }
        });
    }

    private void outline(double bx, double by, double width, double height, double rounding) throws IOException {
        double r = Math.min(rounding, Math.min(width, height) / 2);
        double k = r * (1 - ARC);
        double rx = bx + width;
        double ry = by + height;
        out.moveTo(x(bx + r), y(by));
        out.lineTo(x(rx - r), y(by));
        out.curveTo(x(rx - k), y(by), x(rx), y(by + k), x(rx), y(by + r));
        out.lineTo(x(rx), y(ry - r));
        out.curveTo(x(rx), y(ry - k), x(rx - k), y(ry), x(rx - r), y(ry));
        out.lineTo(x(bx + r), y(ry));
        out.curveTo(x(bx + k), y(ry), x(bx), y(ry - k), x(bx), y(ry - r));
        out.lineTo(x(bx), y(by + r));
        out.curveTo(x(bx), y(by + k), x(bx + k), y(by), x(bx + r), y(by));
        out.closePath();
    }

    @Override
    public void circle(double cx, double cy, double radius, Ink fill, Stroke edge) {
        box(cx - radius, cy - radius, 2 * radius, 2 * radius, radius, fill, edge);
    }

    @Override
    public void polygon(List<Point> points, Ink fill) {
        write(() -> {
            fill(fill);
            out.moveTo(x(points.getFirst().x()), y(points.getFirst().y()));
            for (Point p : points.subList(1, points.size())) {
                out.lineTo(x(p.x()), y(p.y()));
            }
            out.closePath();
            out.fill();
        });
    }

    private PdfText font(Lettering l) {
        return new PdfText(l == Lettering.BOLD ? bold : l == Lettering.MONO ? mono : plain, plain);
    }

    @Override
    public void text(String text, double tx, double ty, double align, Lettering lettering, double size, Ink ink) {
        write(() -> {
            fill(ink);
            out.beginText();
            out.newLineAtOffset(x(tx - align * width(text, lettering, size)), y(ty + size * BASELINE));
            font(lettering).show(out, text, size);
            out.endText();
        });
    }

    @Override
    public double width(String text, Lettering lettering, double size) {
        try {
            return font(lettering).width(text, size);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
