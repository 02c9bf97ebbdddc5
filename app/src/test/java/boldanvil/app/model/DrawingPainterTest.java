package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import org.junit.jupiter.api.Test;

class DrawingPainterTest {
    private static String svg(String inside) {
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"20\" height=\"10\" viewBox=\"0 0 20 10\">" + inside + "</svg>";
    }

    @Test
    void aDrawingIsPaintedInItsShape() {
        var image = DrawingPainter.paint(svg("<rect width='10' height='10' fill='#ff0000'/>"), 200);
        assertThat(image.getWidth()).isEqualTo(200);
        assertThat(image.getHeight()).isEqualTo(100);
        assertThat(image.getRGB(50, 50)).isEqualTo(0xFFFF0000);
        assertThat(image.getRGB(150, 50) >>> 24).as("nothing there").isZero();
    }

    @Test
    void whatCannotBePaintedIsAFinding() {
        assertThatThrownBy(() -> DrawingPainter.paint("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"0\" height=\"0\"/>", 200))
                .isInstanceOf(FindingException.class).hasMessageContaining("no size");
        assertThatThrownBy(() -> DrawingPainter.paint(svg("<line x2='9' y2='9' stroke='#000' stroke-width='-1'/>"), 200))
                .isInstanceOf(FindingException.class)
                .hasMessageContaining("cannot be painted");
    }
}
