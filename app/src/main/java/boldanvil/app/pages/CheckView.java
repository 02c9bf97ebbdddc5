package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.Figures;
import boldanvil.app.model.LatestWork;
import boldanvil.app.model.LoopSession;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.asbuilt.AsBuilt;
import boldanvil.core.asbuilt.LoopCheck;
import boldanvil.core.loop.Linearisation;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;

/** The sheet as it runs, with limits, converters and delays, beside the linear prediction of a step. */
final class CheckView {
    private static final double NAN = Double.NaN;

    private final PageHost host;
    private final LoopSession loop;
    private final LatestWork work;
    private final TextField size = Forms.field("check-size", "1", "Step that is added to the opened wire, in the unit of its signal");
    private final TextField time = Forms.field("check-time", "0.2 s", "How long the courses are compared");
    private final Label message = Forms.message("check-message");
    private final VBox words = new VBox(4);
    private final VBox hardware = new VBox(3);
    private final Button check;
    private final CurveView courses;
    private final CurveView difference;
    private final VBox plots;
    private final Label empty = Forms.faint("");
    private final Node node;
    private LoopCheck.Result result;
    private LoopSession.Opened known;

    CheckView(PageHost host, LoopSession loop) {
        this.host = host;
        this.loop = loop;
        work = new LatestWork("loop check", Platform::runLater, this::changed);
        check = Buttons.button("Check", "check-start", "Runs the sheet with the step and compares it with the linear prediction",
                this::start);
        check.getStyleClass().add("primary");
        courses = new CurveView(host::theme);
        courses.setId("check-courses");
        difference = new CurveView(host::theme);
        difference.setId("check-difference");
        courses.setPrefHeight(430);
        difference.setPrefHeight(230);
        VBox.setVgrow(courses, javafx.scene.layout.Priority.ALWAYS);
        plots = new VBox(courses, difference);
        words.setId("check-words");
        empty.setId("check-empty");
        node = Forms.beside(new VBox(8, Forms.heading("Limits"), Forms.section("STEP AT THE OPENED WIRE"),
                Forms.grid("Size", size, "Time", time),
                check, message, words, Forms.section("FROM SAMPLE TO EFFECT"), hardware), new StackPane(plots, empty));
        loop.onChange(() -> {
            // While a gain is dragged nothing here changes.
            if (loop.opened().orElse(null) != known) {
                changed();
            }
        });
        changed();
    }

    Node node() {
        return node;
    }

    private void start() {
        var opened = loop.opened();
        var shown = loop.shown();
        if (opened.isEmpty() || shown.isEmpty()) {
            host.showMessage("Open a loop first.");
            return;
        }
        var project = loop.project().orElseThrow();
        var o = opened.get();
        double gain = shown.get().at().gain();
        boolean sheet = loop.gains().isEmpty() && gain != 1;
        Forms.number(host, size).ifPresent(a -> Forms.number(host, time).filter(t -> t > 0).ifPresent(t -> work.start("Running the sheet …",
                () -> LoopCheck.of(project, o.rig(), o.cut(), o.point(), Linearisation.open(project, o.rig(), o.cut(),
                        o.point()), a, t), r -> {
                    result = r;
                    if (sheet) {
                        host.showMessage("No controller was found for the gain that is shown; the sheet was run as it stands.");
                    }
                })));
    }

    void draw() {
        if (result == null) {
            return;
        }
        double[] linearT = result.linear().t();
        double end = Math.min(linearT[linearT.length - 1], result.sheet().t()[result.sheet().t().length - 1]);
        List<Curve> all = new ArrayList<>();
        result.built().ifPresent(b -> all.add(new Curve(b.t(), b.y(), Style.DOTTED, 5)));
        all.add(new Curve(result.sheet().t(), result.sheet().y(), Style.DASHED, 1));
        all.add(new Curve(linearT, result.linear().y(), Style.LINE, 0));
        List<Mark> marks = new ArrayList<>();
        result.sheet().limits().stream().limit(4).forEach(l -> marks.add(new Mark(l.from(), NAN,
                l.path().substring(l.path().lastIndexOf('/') + 1) + " at its limit")));
        courses.show(Plot.of("What comes back: linear solid, sheet dashed" + (result.built().isPresent() ? ", as built dotted" : ""),
                "Time, s",
                false, all, marks).between(new double[] {0, end}, null));
        double[] away = result.difference();
        List<Mark> parts = new ArrayList<>(List.of(new Mark(NAN, 0, "")));
        if (!Double.isNaN(result.parts())) {
            parts.add(new Mark(result.parts(), NAN, "5 % of the response"));
        }
        difference.show(Plot.of("Sheet less linear", "Time, s", false, List.of(new Curve(linearT, away, Style.LINE, 2)), parts)
                .between(new double[] {0, end}, reach(away)));
    }

    /** Limits of an axis that keep rounding from looking like a difference. */
    private double[] reach(double[] away) {
        double most = Arrays.stream(away).map(Math::abs).max().orElse(0);
        double least = Arrays.stream(result.linear().y()).map(Math::abs).max().orElse(1) * 0.01;
        return most < least ? new double[] {-least, least} : null;
    }

    private void changed() {
        if (loop.opened().orElse(null) != known) {
            known = loop.opened().orElse(null);
            result = null;
        }
        message.setText(work.message());
        Forms.show(message, !work.message().isEmpty());
        check.setDisable(work.isBusy() || loop.opened().isEmpty());
        words.getChildren().setAll(result == null ? List.of() : result.words().stream().map(Forms::line).toList());
        hardware.getChildren().setAll(hardware());
        plots.setVisible(result != null);
        empty.setVisible(result == null);
        empty.setText(loop.opened().isEmpty() ? "Open a loop in the view 'Loop' first.\nThen this view shows what limits, converters "
                + "and delays do to it."
                        : "Enter the size of a step and press 'Check'.\nThe sheet runs with it, ideal and as built, beside the "
                + "linear prediction.");
        draw();
    }

    private List<Label> hardware() {
        var how = loop.shown().flatMap(d -> d.built()).map(LoopSession.Built::how);
        if (how.isEmpty()) {
            return List.of(Forms.line(loop.opened().isEmpty() ? "" : "No part of this loop is patched to a board."));
        }
        List<Label> all = new ArrayList<>();
        for (AsBuilt.Way w : how.get().ways()) {
            all.add(Forms.line(w.terminal() + ", " + w.board() + ": inputs ready " + Figures.seconds(w.ready()) + ", written "
                    + Figures.seconds(w.written()) + ", acts " + Figures.seconds(w.effect()) + (w.counted() == 0 ? " (not counted)" : "")));
        }
        how.get().converters().forEach((terminal, facts) -> {
            String text = facts.stream().filter(f -> f.name().equals("resolution") || f.name().equals("range") || f.name().equals("noise"))
                    .map(f -> f.name() + " " + f.value() + (f.unit().isEmpty() ? "" : " " + f.unit())).collect(Collectors.joining(", "));
            if (!text.isEmpty()) {
                all.add(Forms.line(Figures.shortName(terminal) + ": " + text));
            }
        });
        return all;
    }
}
