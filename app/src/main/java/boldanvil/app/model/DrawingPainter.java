package boldanvil.app.model;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import com.github.weisj.jsvg.parser.LoaderContext;
import com.github.weisj.jsvg.parser.SVGLoader;
import com.github.weisj.jsvg.view.ViewBox;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;

/** Paints SVG drawings as pictures. */
public final class DrawingPainter {
    private static final int TALLEST = 4_000;

    private DrawingPainter() {}

    /**
     * Paints a drawing.
     *
     * @param width of the picture, in pixels; its height follows
     * @throws FindingException when it has no size, or cannot be painted
     */
    public static BufferedImage paint(String svg, int width) {
        try {
            var document = new SVGLoader().load(new ByteArrayInputStream(svg.getBytes(StandardCharsets.UTF_8)), null,
                    LoaderContext.createDefault());
            if (document == null || !(document.size().width > 0) || !(document.size().height > 0)) {
                throw FindingException.of("drawing", "The drawing has no size.", "Give its svg element a width, a height and a viewBox.");
            }
            double scale = width / (double) document.size().width;
            var image = new BufferedImage(width, (int) Math.clamp(Math.ceil(document.size().height * scale), 1, TALLEST),
                    BufferedImage.TYPE_INT_ARGB);
            var g = image.createGraphics();
            g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
            g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
            document.render((java.awt.Component) null, g, new ViewBox(0, 0, image.getWidth(), image.getHeight()));
            g.dispose();
            return image;
        } catch (FindingException e) {
            throw e;
        } catch (RuntimeException | StackOverflowError | OutOfMemoryError e) {
            throw FindingException.of("drawing", "The drawing cannot be painted: " + Finding.reason(e) + ".",
                    "Export it as plain SVG, and look for sizes below zero.");
        }
    }
}
