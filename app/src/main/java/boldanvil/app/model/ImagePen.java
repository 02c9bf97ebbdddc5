package boldanvil.app.model;

import boldanvil.core.report.PdfBook;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.Ink;
import boldanvil.core.sheet.Pen;
import boldanvil.core.sheet.Routes;
import boldanvil.core.sheet.SheetFile;
import boldanvil.core.sheet.SheetPainter;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene;
import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.FontFormatException;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.Shape;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Path2D;
import java.awt.geom.RoundRectangle2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;

/** Draws into a picture, with or without a window. */
public final class ImagePen implements Pen {
    private static final int LARGEST = 12_000;

    private final Graphics2D g;
    private final Map<Lettering, Font> fonts = new EnumMap<>(Lettering.class);

    private ImagePen(Graphics2D g, PdfBook.Fonts files) throws IOException {
        this.g = g;
        try {
            fonts.put(Lettering.SANS, Font.createFont(Font.TRUETYPE_FONT, new ByteArrayInputStream(files.plain())));
            fonts.put(Lettering.BOLD, Font.createFont(Font.TRUETYPE_FONT, new ByteArrayInputStream(files.bold())));
            fonts.put(Lettering.MONO, Font.createFont(Font.TRUETYPE_FONT, new ByteArrayInputStream(files.mono())));
        } catch (FontFormatException e) {
            throw new IOException(e);
        }
    }

    /** Writes a sheet as PNG, two pixels for a unit where that is not too large. */
    public static void png(SheetScene scene, Path file) throws IOException {
        ImageIO.write(image(scene, 2), "png", file.toFile());
    }

    /** A sheet as a picture. */
    public static BufferedImage image(SheetScene scene, double wanted) throws IOException {
        Routes routes = Routes.of(scene);
        Box f = SheetFile.frame(scene, routes);
        double scale = Math.min(wanted, LARGEST / Math.max(1, Math.max(f.width(), f.height())));
        var image = new BufferedImage(Math.max(1, (int) Math.ceil(f.width() * scale)), Math.max(1, (int) Math.ceil(f.height() * scale)),
                BufferedImage.TYPE_INT_RGB);
        Graphics2D g = image.createGraphics();
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_FRACTIONALMETRICS, RenderingHints.VALUE_FRACTIONALMETRICS_ON);
        g.setColor(Color.decode(Ink.PAPER.hex(false)));
        g.fillRect(0, 0, image.getWidth(), image.getHeight());
        g.scale(scale, scale);
        g.translate(-f.x(), -f.y());
        new SheetPainter(new ImagePen(g, Reports.fonts()), Math.max(1, scale)).sheet(scene, routes);
        g.dispose();
        return image;
    }

    private void stroke(Stroke s) {
        g.setColor(Color.decode(s.ink().hex(false)));
        g.setStroke(s.dashed() ? new BasicStroke((float) s.width(), BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1, new float[] {5, 3}, 0)
                : new BasicStroke((float) s.width(), BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND));
    }

    @Override
    public void line(List<Point> points, double rounding, Stroke stroke) {
        stroke(stroke);
        g.draw(path(points));
    }

    private static Path2D path(List<Point> points) {
        var path = new Path2D.Double();
        path.moveTo(points.getFirst().x(), points.getFirst().y());
        points.subList(1, points.size()).forEach(p -> path.lineTo(p.x(), p.y()));
        return path;
    }

    @Override
    public void box(double x, double y, double width, double height, double rounding, Ink fill, Stroke edge) {
        paint(new RoundRectangle2D.Double(x, y, width, height, 2 * rounding, 2 * rounding), fill, edge);
    }

    @Override
    public void circle(double x, double y, double radius, Ink fill, Stroke edge) {
        paint(new Ellipse2D.Double(x - radius, y - radius, 2 * radius, 2 * radius), fill, edge);
    }

    private void paint(Shape shape, Ink fill, Stroke edge) {
        if (fill != null) {
            g.setColor(Color.decode(fill.hex(false)));
            g.fill(shape);
        }
        if (edge != null) {
            stroke(edge);
            g.draw(shape);
        }
    }

    @Override
    public void polygon(List<Point> points, Ink fill) {
        var path = path(points);
        path.closePath();
        paint(path, fill, null);
    }

    @Override
    public void text(String text, double x, double y, double align, Lettering lettering, double size, Ink ink) {
        g.setFont(font(text, lettering, size));
        g.setColor(Color.decode(ink.hex(false)));
        g.drawString(text, (float) (x - align * width(text, lettering, size)), (float) (y + size * BASELINE));
    }

    @Override
    public double width(String text, Lettering lettering, double size) {
        return font(text, lettering, size).getStringBounds(text, g.getFontRenderContext()).getWidth();
    }

    /** The font of the application, or one of the machine for a text with letters it does not have. */
    private Font font(String text, Lettering lettering, double size) {
        Font own = fonts.get(lettering).deriveFont((float) size);
        return own.canDisplayUpTo(text) < 0 ? own : new Font(lettering == Lettering.MONO ? Font.MONOSPACED : Font.SANS_SERIF, Font.PLAIN, 1)
                .deriveFont((float) size);
    }
}
