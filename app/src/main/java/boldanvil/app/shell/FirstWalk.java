package boldanvil.app.shell;

import boldanvil.app.widget.PopupCard;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Insets;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** A few steps over the real interface; each stands beside what it is about. It can be left at any time and called again. */
final class FirstWalk {
    private record Step(String page, String node, String text) {}

    private static final List<Step> STEPS = List.of(
            new Step("Sheet", "#stock-search",
            "The sheet. Type here to find a block, press Enter to place it, and drag from port to port to wire it. "
                    + "Double-click a part to open it."),
            new Step("Sheet", "#rig",
            "The rig says where each part runs: as a model, as compiled code, on a device. The rig desk simulates everything."),
            new Step("Sheet", "#run", "Run starts the rig. A run is recorded from its first sample."),
            new Step("Bench", "#page-bench",
            "The bench shows the signals of a running rig. Turn a dial on the left and watch the charts; Hold, Cursors and "
                    + "Measure are above them."),
            new Step("Patch", "#page-patch",
            "The patch gives each terminal of a controller a peripheral and a pin of its board, with the figures that follow."),
            new Step("Build", "#page-build", "Build shows the generated files, sizes and processor load, and what the last start did."),
            new Step("Runs", "#page-runs", "Runs keeps every run: overlay, compare, measure, export."),
            new Step("Sheet", "#findings-button",
            "Mistakes appear here as findings, with place, cause and cure. Ctrl+Z undoes anything; Ctrl+K lists every "
                    + "command; F12 stops everything."));

    private final Scene scene;
    private final Consumer<String> show;
    private Popup popup;

    /** @param show brings a page to the front */
    FirstWalk(Scene scene, Consumer<String> show) {
        this.scene = scene;
        this.show = show;
    }

    /** Begins at the first step. */
    void begin() {
        go(0);
    }

    private void go(int i) {
        if (popup != null) {
            popup.hide();
        }
        if (i < 0 || i >= STEPS.size()) {
            return;
        }
        var step = STEPS.get(i);
        show.accept(step.page());
        var words = new Label(step.text());
        words.setId("walk-text");
        words.setWrapText(true);
        words.setMaxWidth(320);
        var count = new Label((i + 1) + " of " + STEPS.size());
        count.getStyleClass().addAll("small", "faint");
        var back = button("Back", "walk-back", () -> go(i - 1));
        back.setDisable(i == 0);
        var next = button(i + 1 == STEPS.size() ? "Finish" : "Next", "walk-next", () -> go(i + 1));
        next.getStyleClass().add("primary");
        var box = new VBox(10, words, new HBox(8, back, next, button("Leave", "walk-leave", () -> go(-1)), count));
        box.setPadding(new Insets(12));
        Node at = scene.lookup(step.node());
        popup = PopupCard.below(at == null ? scene.getRoot() : at, box);
        popup.setAutoHide(false);
    }

    private static Button button(String text, String id, Runnable action) {
        var b = new Button(text);
        b.setId(id);
        b.setOnAction(_ -> action.run());
        return b;
    }
}
