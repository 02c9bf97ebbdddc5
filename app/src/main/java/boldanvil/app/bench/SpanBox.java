package boldanvil.app.bench;

import boldanvil.app.chart.TraceView;
import boldanvil.app.model.Figures;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import java.util.Map;
import java.util.function.Consumer;
import javafx.scene.control.ComboBox;

/** The width of the time axis, to be chosen or typed. */
final class SpanBox extends ComboBox<String> {
    private final TraceView traces;
    private final Consumer<String> message;

    SpanBox(TraceView traces, Consumer<String> message) {
        this.traces = traces;
        this.message = message;
        setId("span");
        setEditable(true);
        setPrefWidth(108);
        setMinWidth(108);
        getItems().addAll("1 ms", "10 ms", "0.1 s", "0.5 s", "1 s", "2 s", "5 s", "10 s", "30 s", "1 min", "10 min", "1 h");
        setValue("5 s");
        valueProperty().addListener((_, _, v) -> apply(v));
    }

    private void apply(String text) {
        if (text == null || text.isBlank()) {
            return;
        }
        try {
            double seconds = Formula.evaluate(text, Map.of(), "s");
            if (seconds > 0 && Math.abs(seconds - traces.span()) > 1e-12 * seconds) {
                traces.setSpan(seconds);
                traces.paint();
            }
        } catch (FormulaException e) {
            message.accept("Span: " + e.getMessage());
        }
    }

    /** Shows the width the charts have. */
    void refresh() {
        if (Math.abs(seconds(getValue()) - traces.span()) > 1e-9 * traces.span()) {
            setValue(traces.span() >= 1 ? Figures.text(traces.span(), 4) + " s" : Figures.seconds(traces.span()));
        }
    }

    private static double seconds(String text) {
        try {
            return text == null ? Double.NaN : Formula.evaluate(text, Map.of(), "s");
        } catch (FormulaException e) {
            return Double.NaN;
        }
    }
}
