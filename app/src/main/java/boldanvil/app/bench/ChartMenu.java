package boldanvil.app.bench;

import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.AskCard;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.diagram.BenchLayout.Style;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.simulate.TapList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Consumer;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.layout.Region;

/** The menu of a pane of charts: what it shows and how. */
final class ChartMenu {
    private final Workspace workspace;
    private final BenchEdits edits;
    private final Region owner;

    /** @param owner where questions are asked */
    ChartMenu(Workspace workspace, BenchEdits edits, Region owner) {
        this.workspace = workspace;
        this.edits = edits;
        this.owner = owner;
    }

    static MenuItem item(String text, Runnable action) {
        var i = new MenuItem(text);
        i.setId("menu-" + text.replaceAll("  \\(.*", "").replace(' ', '-').toLowerCase(Locale.ROOT));
        i.setOnAction(_ -> action.run());
        return i;
    }

    /** What can be done with a pane. */
    void items(List<MenuItem> into, Chart c) {
        var joined = new Menu("Line style");
        for (Style s : Style.values()) {
            joined.getItems().add(item(s.name().toLowerCase(Locale.ROOT), () -> edits.replace(c, c.with(s))));
        }
        var kinds = new Menu("Show the pane as");
        for (Kind k : Kind.values()) {
            kinds.getItems().add(item(switch (k) {
                case TRACE -> "time chart";
                case LOGIC -> "logic chart";
                case XY -> "XY plot";
                case SPECTRUM -> "spectrum";
                case HISTOGRAM -> "histogram";
            }, () -> edits.add(c.another(c.title() + ", " + k.name().toLowerCase(Locale.ROOT), k))));
        }
        var more = new Menu("Add a signal");
        var right = new Menu("Add a signal on the right axis");
        for (var e : TapList.of(workspace.review().system()).entries()) {
            if (!c.allTaps().contains(e.address())) {
                more.getItems().add(item(e.address().replace('_', ' '), () -> edits.replace(c, c.plus(e.address(), false, ""))));
                right.getItems().add(item(e.address().replace('_', ' '), () ->
                        edits.replace(c, c.plus(e.address(), true, e.tap().unit()))));
            }
        }
        var fewer = new Menu("Remove a signal");
        c.allTaps().forEach(tap -> fewer.getItems().add(item(tap.replace('_', ' '), () -> edits.replace(c, c.without(tap)))));
        var base = item(c.base() > 0 ? "Engineering units" : "Per unit of …", () -> {
            if (c.base() > 0) {
                edits.replace(c, c.based(0));
            } else {
                AskCard.show(owner, "Per-unit base of this axis" + (c.unit().isEmpty() ? "" : " In " + c.unit() + "."), "",
                        text -> positive(text, v -> edits.replace(c, c.based(v))));
            }
        });
        var mean = item(c.period() > 0 ? "Instantaneous values" : "Mean over a switching period …", () -> {
            if (c.period() > 0) {
                edits.replace(c, c.averaged(0));
            } else {
                AskCard.show(owner, "Averaging period", "50 us", text -> positive(text, v -> edits.replace(c, c.averaged(v))));
            }
        });
        var decoders = new Menu("Decode the lines as");
        for (BenchLayout.Decoder d : BenchLayout.Decoder.values()) {
            decoders.getItems().add(item(switch (d) {
                case NONE -> "no decoding";
                case ENCODER -> "encoder: A, B, index";
                case PWM -> "PWM: upper, lower";
                case UART -> "serial line";
            }, () -> edits.replace(c, c.decoded(d))));
        }
        into.addAll(List.of(joined, base, mean, more, right, fewer, kinds));
        if (c.kind() == Kind.LOGIC) {
            into.add(decoders);
        }
        into.addAll(List.of(new SeparatorMenuItem(), item("Remove this pane", () -> edits.remove(c))));
    }

    private static String positive(String text, Consumer<Double> take) {
        try {
            double v = Formula.evaluate(text, Map.of());
            if (!(v > 0)) {
                return "Enter a value above 0.";
            }
            take.accept(v);
            return "";
        } catch (FormulaException e) {
            return e.getMessage();
        }
    }
}
