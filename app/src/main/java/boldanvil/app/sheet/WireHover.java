package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.TimeTravel;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.Wire;
import java.util.function.Supplier;
import javafx.scene.canvas.Canvas;
import javafx.scene.text.TextAlignment;

/** A small chart beside the pointer: the last stretch of the wire it is on, up to the instant that is shown. */
final class WireHover extends Canvas {
    private static final double WIDTH = 210;
    private static final double HEIGHT = 92;
    private static final double SECONDS = 0.1;

    private final TimeTravel travel;
    private final Supplier<Theme> theme;
    private Wire shown;

    WireHover(TimeTravel travel, Supplier<Theme> theme) {
        super(WIDTH, HEIGHT);
        this.travel = travel;
        this.theme = theme;
        setManaged(false);
        setMouseTransparent(true);
        setVisible(false);
        setId("wire-hover");
    }

    /** Follows the pointer; null for no wire. */
    void over(Wire wire, double x, double y) {
        if (wire == null || !travel.isOn() || wire.isNet()) {
            shown = null;
            setVisible(false);
            return;
        }
        relocate(x + 14, y + 14);
        if (!wire.equals(shown)) {
            shown = wire;
            travel.stretch(wire.from(), wire.fromPort(), SECONDS, s -> {
                if (wire.equals(shown)) {
                    draw(s);
                    setVisible(s.times().length > 0);
                }
            });
        }
    }

    private void draw(TimeTravel.Stretch s) {
        var t = theme.get();
        var g = getGraphicsContext2D();
        g.setFill(t.card());
        g.fillRect(0, 0, WIDTH, HEIGHT);
        g.setStroke(t.rule());
        g.setLineWidth(1);
        g.strokeRect(0.5, 0.5, WIDTH - 1, HEIGHT - 1);
        int n = s.times().length;
        if (n == 0) {
            return;
        }
        double low = Double.MAX_VALUE;
        double high = -Double.MAX_VALUE;
        for (double v : s.values()) {
            low = Math.min(low, v);
            high = Math.max(high, v);
        }
        double end = travel.instant();
        double begin = Math.min(s.times()[0], end - SECONDS);
        double span = high > low ? high - low : Math.max(1e-12, Math.abs(high));
        g.setStroke(t.trace(0));
        g.setLineWidth(1.4);
        g.beginPath();
        double lastY = 0;
        for (int i = 0; i < n; i++) {
            double x = 8 + (s.times()[i] - begin) / (end - begin) * (WIDTH - 16);
            double y = high > low ? 66 - (s.values()[i] - low) / span * 44 : 44;
            if (i == 0) {
                g.moveTo(x, y);
            } else {
                g.lineTo(x, lastY);
                g.lineTo(x, y);
            }
            lastY = y;
        }
        g.stroke();
        g.setFill(t.ink());
        g.setFont(Theme.mono(10.5));
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(Figures.text(s.values()[n - 1], 6, ""), 8, 15);
        g.setFill(t.faint());
        g.setTextAlign(TextAlignment.RIGHT);
        g.fillText(Figures.text(low, 4, "") + " … " + Figures.text(high, 4, ""), WIDTH - 8, 15);
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText("last " + Figures.text(end - begin, 3, "s"), 8, HEIGHT - 7);
    }
}
