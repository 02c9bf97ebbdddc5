package boldanvil.app.chart;

import boldanvil.app.model.Figures;
import boldanvil.app.widget.Columns;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.measure.Lines;
import boldanvil.core.measure.Measurement;
import boldanvil.core.measure.Spectrum;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Function;
import javafx.application.Platform;
import javafx.beans.property.SimpleStringProperty;
import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** What the signals of the charts are like between the cursors or on the screen. */
public final class MeasurePane extends VBox {
    private static final int MOST_SAMPLES = 2_000_000;

    /** A signal's numbers, as text. */
    record Row(String tap, String unit, Measurement m, double distortion, String lines) {}

    private final Executor background;
    private final AtomicBoolean busy = new AtomicBoolean();
    private final Label range = new Label();
    private final TableView<Row> table = new TableView<>();

    public MeasurePane(Executor background) {
        super(2);
        this.background = background;
        range.setId("measure-range");
        range.getStyleClass().addAll("small", "faint");
        range.setStyle("-fx-padding: 2 12 0 12;");
        table.setId("measurements");
        table.getStyleClass().add("dense");
        column("signal", 118, false, "", r -> Figures.shortName(r.tap()));
        column("unit", 46, false, "", Row::unit);
        column("mean", 74, true, "Mean over time, with straight lines between samples", r -> Figures.text(r.m().mean(), 4));
        column("RMS", 74, true, "Root mean square over time", r -> Figures.text(r.m().rms(), 4));
        column("ripple RMS", 78, true, "RMS of the signal without its mean", r -> Figures.text(r.m().rippleRms(), 4));
        column("minimum", 74, true, "", r -> Figures.text(r.m().least(), 4));
        column("maximum", 74, true, "", r -> Figures.text(r.m().greatest(), 4));
        column("peak to peak", 88, true, "", r -> Figures.text(r.m().peakToPeak(), 4));
        column("freq. Hz", 72, true, "Whole periods between rising crossings of the middle (IEEE 181-2011)",
                r -> Figures.text(r.m().frequency(), 5));
        column("duty %", 60, true, "Share of the periods above the middle (IEEE 181-2011)", r -> Figures.text(100 * r.m().duty(), 4));
        column("THD %", 60, true, "RMS of harmonics 2 to 40 by the fundamental (THD-F, IEC 61000-4-7)",
                r -> Figures.text(100 * r.distortion(), 3));
        column("read", 112, false, "Decoded data of a logic pane", Row::lines);
        table.setPlaceholder(new Label("Measurements of the chart signals appear here while a run is shown."));
        table.setFixedCellSize(23);
        table.setPrefHeight(176);
        table.setMinHeight(120);
        VBox.setVgrow(table, Priority.ALWAYS);
        getChildren().addAll(range, table);
    }

    private void column(String title, double width, boolean right, String meaning, Function<Row, String> text) {
        TableColumn<Row, String> c = Columns.explained(title, meaning);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        c.setSortable(false);
        if (right) {
            c.getStyleClass().add("figure");
        }
        table.getColumns().add(c);
    }

    List<Row> rows() {
        return List.copyOf(table.getItems());
    }

    /** Copies the numbers as text. */
    public String asText() {
        var s = new StringBuilder("signal\tunit\tmean\tRMS\tripple RMS\tleast\tgreatest\tpeak to peak\tfrequency Hz\tduty\n");
        for (Row r : table.getItems()) {
            var m = r.m();
            s.append(String.join("\t", r.tap(), r.unit(), Double.toString(m.mean()), Double.toString(m.rms()),
                    Double.toString(m.rippleRms()), Double.toString(m.least()),
                    Double.toString(m.greatest()), Double.toString(m.peakToPeak()), Double.toString(m.frequency()),
                    Double.toString(m.duty()))).append('\n');
        }
        return s.toString();
    }

    /**
     * Measures again, unless it is still at it.
     *
     * @param cursors whether the span is that between the cursors
     */
    public void update(Samples samples, List<Chart> charts, double[] span, boolean cursors) {
        if (samples == null || !busy.compareAndSet(false, true)) {
            return;
        }
        background.execute(() -> {
            try {
                List<Row> rows = new ArrayList<>();
                for (Chart c : charts) {
                    List<Series> lines = new ArrayList<>();
                    for (String tap : c.allTaps()) {
                        int column = samples.indexOf(tap);
                        if (column < 0) {
                            continue;
                        }
                        double from = samples.count(column, span[0], span[1]) > MOST_SAMPLES
                                ? span[1] - (span[1] - span[0]) * MOST_SAMPLES / samples.count(column, span[0], span[1]) : span[0];
                        Series s = samples.series(column, from, span[1]);
                        lines.add(s);
                        String unit = c.rightTaps().contains(tap) ? c.rightUnit() : c.unit().isEmpty()
                                ? samples.columns().get(column).unit() : c.unit();
                        var m = Measurement.of(s);
                        rows.add(new Row(tap, unit, c.kind() == Kind.LOGIC ? m : m.in(Units.orOne(unit)), distortion(s, m), ""));
                    }
                    decode(c, lines, rows);
                }
                String what = String.format(Locale.ROOT, "%s: %s to %s, %s long", cursors ? "Between the cursors" : "In the visible span",
                        Figures.seconds(span[0]), Figures.seconds(span[1]),
                        Figures.seconds(span[1] - span[0]));
                Platform.runLater(() -> {
                    range.setText(what);
                    table.getItems().setAll(rows);
                });
            } finally {
                busy.set(false);
            }
        });
    }

    /** Up to the 40th harmonic, where there are some periods; NaN elsewhere. */
    private static double distortion(Series s, Measurement m) {
        boolean periodic = m.frequency() * m.seconds() > 2 && s.size() < 200_000;
        double d = periodic ? Spectrum.distortion(s, m.frequency(), 40) : Double.NaN;
        // More harmonics than fundamental: it is not a distorted sine, it is something else.
        return d < 1 ? d : Double.NaN;
    }

    /** What the lines of a logic pane say together. */
    private static void decode(Chart c, List<Series> lines, List<Row> rows) {
        if (lines.isEmpty()) {
            return;
        }
        String text = switch (c.decoder()) {
            case NONE -> "";
            case PWM -> Lines.pwm(lines.getFirst()).map(p -> String.format(Locale.ROOT, "%s Hz, duty %.2f %%", Figures.text(p.hertz(), 5),
                    100 * p.duty())).orElse("less than one period")
                    + (lines.size() > 1 ? ", dead time " + Figures.seconds(Lines.deadTime(lines.get(0), lines.get(1))) : "");
            case ENCODER -> {
                if (lines.size() < 2) {
                    yield "select two lines for an encoder";
                }
                var e = Lines.encoder(lines.get(0), lines.get(1), lines.size() > 2 ? Optional.of(lines.get(2)) : Optional.empty());
                long count = e.count().size() == 0 ? 0 : (long) e.count().values()[e.count().size() - 1];
                yield count + " counts, " + e.errors() + " errors" + (e.indices().isEmpty() ? "" : ", index at " + e.indices().getLast());
            }
            case UART -> {
                var read = Lines.uart(lines.getFirst(), c.baud(), 8, Lines.Parity.NONE);
                var s = new StringBuilder();
                read.stream().skip(Math.max(0, read.size() - 12)).forEach(x ->
                        s.append(x.framed() ? String.format("%02X ", x.value()) : "?? "));
                yield read.isEmpty() ? "no data" : s.toString().strip();
            }
        };
        if (!text.isEmpty()) {
            Row first = rows.get(rows.size() - lines.size());
            rows.set(rows.size() - lines.size(), new Row(first.tap(), first.unit(), first.m(), first.distortion(), text));
        }
    }
}
