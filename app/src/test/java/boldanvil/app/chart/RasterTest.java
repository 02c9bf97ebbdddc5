package boldanvil.app.chart;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.widget.Theme;
import javafx.scene.paint.Color;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.ExtendWith;
import org.testfx.framework.junit5.ApplicationExtension;

@ExtendWith(ApplicationExtension.class)
class RasterTest {
    private static final int WHITE = 0xFFFFFFFF;
    private static final int BLACK = 0xFF000000;

    private static Raster white() {
        var r = new Raster(20, 10);
        r.fill(WHITE);
        return r;
    }

    private static int at(Raster r, int x, int y) {
        return r.image().getPixelReader().getArgb(x, y);
    }

    @Test
    void aSpanIsSolidInsideAndSoftAtItsEnds() {
        var r = white();
        r.span(3, 2.5, 6.25, BLACK);
        assertThat(at(r, 3, 1)).isEqualTo(WHITE);
        assertThat(at(r, 3, 2) & 0xFF).isBetween(120, 135);
        assertThat(at(r, 3, 4)).isEqualTo(BLACK);
        assertThat(at(r, 3, 6) & 0xFF).isBetween(185, 198);
        assertThat(at(r, 3, 7)).isEqualTo(WHITE);
        assertThat(at(r, 4, 4)).isEqualTo(WHITE);
    }

    @Test
    void nothingIsDrawnOutsideTheClip() {
        var r = white();
        r.clip(5, 3, 5, 4);
        r.span(4, 0, 10, BLACK);
        r.span(6, -100, 100, BLACK);
        r.line(-50, 5, 50, 5, 2, BLACK, null);
        r.horizontal(1, BLACK);
        r.vertical(15, BLACK, 1, 0);
        for (int x = 0; x < 20; x++) {
            for (int y = 0; y < 10; y++) {
                boolean inside = x >= 5 && x < 10 && y >= 3 && y < 7;
                if (!inside) {
                    assertThat(at(r, x, y)).as("%d %d", x, y).isEqualTo(WHITE);
                }
            }
        }
        assertThat(at(r, 6, 4)).isEqualTo(BLACK);
    }

    @Test
    void aLineHasNoGaps() {
        var r = white();
        r.line(0.5, 0.5, 19.5, 9.5, 1.6, BLACK, null);
        for (int x = 1; x < 19; x++) {
            int darkest = 255;
            for (int y = 0; y < 10; y++) {
                darkest = Math.min(darkest, at(r, x, y) & 0xFF);
            }
            assertThat(darkest).as("column %d", x).isLessThan(100);
        }
    }

    @Test
    void aShiftMovesTheClippedPartAlone() {
        var r = white();
        r.span(8, 0, 10, BLACK);
        r.clip(5, 3, 10, 4);
        r.shift(2);
        assertThat(at(r, 6, 4)).isEqualTo(BLACK);
        assertThat(at(r, 8, 4)).isEqualTo(WHITE);
        assertThat(at(r, 8, 1)).isEqualTo(BLACK);
        assertThat(at(r, 6, 1)).isEqualTo(WHITE);
    }

    @Test
    void dashesLeaveGaps() {
        assertThat(Raster.isOn(0, new int[] {7, 4})).isTrue();
        assertThat(Raster.isOn(8, new int[] {7, 4})).isFalse();
        assertThat(Raster.isOn(11, new int[] {7, 4})).isTrue();
        assertThat(Raster.isOn(3, null)).isTrue();
    }

    @Test
    void coloursAreOpaque() {
        assertThat(Raster.argb(Color.web("#0B6AA2"))).isEqualTo(0xFF0B6AA2);
        assertThat(Raster.argb(Theme.DAY.card())).isEqualTo(0xFFFCFAF5);
    }
}
