package boldanvil.core.report;

import boldanvil.core.escape.Escape;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Locale;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;

/** Charts as vector drawings: SVG (W3C SVG 1.1) and PDF. */
public final class PlotFile {
    private static final double WIDTH = 800;
    private static final double PANE = 180;
    private static final double LEFT = 70;
    private static final double RIGHT = 20;
    private static final double HEAD = 26;
    private static final double TOP = 34;
    private static final double FOOT = 44;

    /** Where strokes and words go; y runs downwards. */
    private interface Surface {
        void line(double[] x, double[] y, int from, int to, String colour, double width, double[] dashes) throws IOException;

        /** @param align 0 left, 0.5 middle, 1 right */
        void text(String s, double x, double y, double size, double align, String colour) throws IOException;

        void clip(double x, double y, double w, double h) throws IOException;

        void unclip() throws IOException;
    }

    private PlotFile() {}

    private static double height(Plot p) {
        return TOP + p.panes().size() * (HEAD + PANE) + FOOT;
    }

    /** Writes an SVG file, whole or not at all. */
    public static void svg(Plot plot, Path file) {
        Table.write(file, out -> out.write(svg(plot, "c").getBytes(StandardCharsets.UTF_8)));
    }

    /**
     * A chart as the text of an SVG element.
     *
     * @param id what names in it begin with; different for the charts of a page
     */
    public static String svg(Plot plot, String id) {
        var surface = new Svg(height(plot), id);
        try {
            draw(plot, surface);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return surface.done();
    }

    /** Adds a chart to a book, on a page of its own. */
    public static void add(Plot plot, PdfBook book) throws IOException {
        var bare = new Plot("", plot.axis(), plot.from(), plot.to(), plot.panes());
        book.add(plot.title(), WIDTH, height(plot), (content, plain, _, _) -> draw(bare, new Pdf(content, plain, height(plot))));
    }

    /**
     * Writes a PDF file of one page, whole or not at all.
     *
     * @param font a TrueType font
     */
    public static void pdf(Plot plot, Path file, byte[] font) {
        Table.write(file, out -> {
            try (var document = new PDDocument()) {
                var page = new PDPage(new PDRectangle((float) WIDTH, (float) height(plot)));
                document.addPage(page);
                var face = PDType0Font.load(document, new java.io.ByteArrayInputStream(font));
                try (var content = new PDPageContentStream(document, page)) {
                    draw(plot, new Pdf(content, face, height(plot)));
                }
                document.save(out);
            }
        });
    }

    private static void draw(Plot p, Surface s) throws IOException {
        s.text(p.title(), LEFT, 20, 15, 0, "#20252A");
        for (int i = 0; i < p.panes().size(); i++) {
            pane(p, p.panes().get(i), TOP + i * (HEAD + PANE), s);
        }
        double bottom = TOP + p.panes().size() * (HEAD + PANE);
        double w = WIDTH - LEFT - RIGHT;
        for (double tick : Ticks.of(p.from(), p.to(), 8)) {
            s.text(Plot.text(tick), LEFT + (tick - p.from()) / (p.to() - p.from()) * w, bottom + 15, 11, 0.5, "#20252A");
        }
        s.text(p.axis(), LEFT + w / 2, bottom + 34, 12, 0.5, "#6C7178");
    }

    private static void pane(Plot p, Plot.Pane pane, double top, Surface s) throws IOException {
        double w = WIDTH - LEFT - RIGHT;
        double y0 = top + HEAD;
        s.text(pane.title(), LEFT, top + 18, 12.5, 0, "#20252A");
        double x = WIDTH - RIGHT;
        for (Plot.Curve c : pane.curves().reversed()) {
            s.text(c.name(), x, top + 18, 11, 1, c.colour());
            x -= 7 * c.name().length() + 18;
        }
        for (double tick : Ticks.of(pane.low(), pane.high(), 5)) {
            double y = y0 + PANE - (tick - pane.low()) / (pane.high() - pane.low()) * PANE;
            s.line(new double[] {LEFT, LEFT + w}, new double[] {y, y}, 0, 2, "#D8D2C4", 0.7, new double[0]);
            s.text(Plot.text(tick), LEFT - 6, y + 4, 11, 1, "#20252A");
        }
        for (double tick : Ticks.of(p.from(), p.to(), 8)) {
            double at = LEFT + (tick - p.from()) / (p.to() - p.from()) * w;
            s.line(new double[] {at, at}, new double[] {y0, y0 + PANE}, 0, 2, "#D8D2C4", 0.7, new double[0]);
        }
        s.line(new double[] {LEFT, LEFT + w, LEFT + w, LEFT, LEFT}, new double[] {y0, y0, y0 + PANE, y0 + PANE, y0}, 0, 5, "#6C7178", 0.8,
                new double[0]);
        s.clip(LEFT, y0, w, PANE);
        for (Plot.Curve c : pane.curves()) {
            double[] px = new double[c.x().length];
            double[] py = new double[px.length];
            for (int i = 0; i < px.length; i++) {
                px[i] = LEFT + (c.x()[i] - p.from()) / (p.to() - p.from()) * w;
                py[i] = y0 + PANE - (c.y()[i] - pane.low()) / (pane.high() - pane.low()) * PANE;
            }
            // A value that is none leaves a gap.
            int start = 0;
            for (int i = 0; i <= px.length; i++) {
                if (i == px.length || Double.isNaN(py[i])) {
                    if (i - start > 1) {
                        s.line(px, py, start, i, c.colour(), 1.3, c.dashes());
                    }
                    start = i + 1;
                }
            }
        }
        s.unclip();
    }

    private static final class Svg implements Surface {
        private final StringBuilder out = new StringBuilder();
        private final String id;
        private int clips;

        Svg(double height, String id) {
            this.id = id;
            out.append(String.format(Locale.ROOT,
                    "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.0f\" height=\"%.0f\" viewBox=\"0 0 %.0f %.0f\" "
                    + "font-family=\"sans-serif\">%n",
                    WIDTH, height, WIDTH, height));
            out.append("<rect width=\"100%\" height=\"100%\" fill=\"#FFFFFF\"/>\n");
        }

        @Override
        public void line(double[] x, double[] y, int from, int to, String colour, double width, double[] dashes) {
            out.append("<polyline fill=\"none\" stroke=\"").append(colour).append(
                    String.format(Locale.ROOT, "\" stroke-width=\"%.1f\"", width));
            if (dashes.length == 2) {
                out.append(String.format(Locale.ROOT, " stroke-dasharray=\"%.0f %.0f\"", dashes[0], dashes[1]));
            }
            out.append(" points=\"");
            for (int i = from; i < to; i++) {
                out.append(String.format(Locale.ROOT, "%.2f,%.2f ", x[i], y[i]));
            }
            out.append("\"/>\n");
        }

        @Override
        public void text(String s, double x, double y, double size, double align, String colour) {
            String anchor = align == 0 ? "start" : align == 1 ? "end" : "middle";
            out.append(String.format(Locale.ROOT, "<text x=\"%.1f\" y=\"%.1f\" font-size=\"%.1f\" text-anchor=\"%s\" fill=\"%s\">", x, y,
                    size, anchor, colour))
                    .append(Escape.xml(s)).append("</text>\n");
        }

        @Override
        public void clip(double x, double y, double w, double h) {
            clips++;
            out.append(String.format(Locale.ROOT,
                    "<clipPath id=\"%s%d\"><rect x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\"/></clipPath><g "
                    + "clip-path=\"url(#%s%d)\">%n", id, clips, x, y, w, h, id, clips));
        }

        @Override
        public void unclip() {
            out.append("</g>\n");
        }

        String done() {
            return out.append("</svg>\n").toString();
        }
    }

    private static final class Pdf implements Surface {
        private final PDPageContentStream out;
        private final PDFont font;
        private final double height;

        Pdf(PDPageContentStream out, PDFont font, double height) {
            this.out = out;
            this.font = font;
            this.height = height;
        }

        @Override
        public void line(double[] x, double[] y, int from, int to, String colour, double width, double[] dashes) throws IOException {
            float[] c = rgb(colour);
            out.setStrokingColor(c[0], c[1], c[2]);
            out.setLineWidth((float) width);
            out.setLineDashPattern(dashes.length == 2 ? new float[] {(float) dashes[0], (float) dashes[1]} : new float[0], 0);
            for (int i = from; i < to; i++) {
                if (i == from) {
                    out.moveTo((float) x[i], (float) (height - y[i]));
                } else {
                    out.lineTo((float) x[i], (float) (height - y[i]));
                }
            }
            out.stroke();
        }

        private static float[] rgb(String colour) {
            int c = Integer.parseInt(colour.substring(1), 16);
            return new float[] {(c >> 16) / 255f, (c >> 8 & 0xFF) / 255f, (c & 0xFF) / 255f};
        }

        @Override
        public void text(String s, double x, double y, double size, double align, String colour) throws IOException {
            var text = new PdfText(font);
            out.beginText();
            float[] c = rgb(colour);
            out.setNonStrokingColor(c[0], c[1], c[2]);
            out.newLineAtOffset((float) (x - align * text.width(s, size)), (float) (height - y));
            text.show(out, s, size);
            out.endText();
        }

        @Override
        public void clip(double x, double y, double w, double h) throws IOException {
            out.saveGraphicsState();
            out.addRect((float) x, (float) (height - y - h), (float) w, (float) h);
            out.clip();
        }

        @Override
        public void unclip() throws IOException {
            out.restoreGraphicsState();
        }
    }
}
