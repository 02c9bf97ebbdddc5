package boldanvil.app.pages;

import boldanvil.app.model.WatchedProgram;
import boldanvil.app.model.WatchedProgram.Instance;
import boldanvil.app.model.WatchedProgram.Line;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.PlcRemote.InterlockTrace;
import java.util.List;
import java.util.Optional;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;

/** Which condition of an interlock was the first that did not hold, and when. */
final class InterlockPane {
    private static final double ROW = 22;
    private static final int ROWS = 6;

    private final TagsPage page;
    private final Label what = new Label();
    private final ListView<String> events = new ListView<>();
    private final Button watch;
    private final Button end;
    private final VBox node;
    private Line line;
    private Instance instance;

    InterlockPane(TagsPage page) {
        this.page = page;
        watch = Buttons.button("Watch interlock", "interlock-watch",
                "Notes from now on which condition of the selected line blocks first, and when", () -> ask(true));
        end = Buttons.button("End", "interlock-end", "Ends watching the interlock", () -> ask(false));
        what.setWrapText(true);
        what.setMinHeight(Region.USE_PREF_SIZE);
        what.setId("interlock-what");
        events.setId("interlock-events");
        events.setFixedCellSize(ROW);
        events.setPrefHeight(ROW * ROWS + 2);
        events.setMinHeight(ROW * 2 + 2);
        node = new VBox(4, Forms.section("WHICH CONDITION BLOCKED FIRST"), new HBox(8, watch, end), what, events);
        choose(null, null);
        show(Optional.empty());
    }

    Node node() {
        return node;
    }

    /** @param chosen the selected line where it is an interlock; else null */
    void choose(Line chosen, Instance in) {
        line = chosen;
        instance = in;
        watch.setDisable(line == null || page.control().isEmpty());
    }

    private void ask(boolean on) {
        int number = on ? line.number() : 0;
        String of = on ? instance.instance() : "";
        page.ask(c -> {
            c.watchInterlock(of, number);
            return on ? "The interlock is being watched." : "";
        });
    }

    /** Shows what has happened; empty where no interlock is watched. */
    void show(Optional<InterlockTrace> trace) {
        watch.setDisable(line == null || page.control().isEmpty());
        end.setDisable(trace.isEmpty());
        Forms.show(events, trace.isPresent());
        what.setText(trace.map(t -> t.path() + (t.events().isEmpty() ? ": nothing has changed so far." : ""))
                .orElse("Select a line with AND between conditions, then press Watch interlock."));
        List<String> rows = trace.map(t -> t.events().reversed().stream().map(WatchedProgram::words).toList()).orElse(List.of());
        if (!rows.equals(events.getItems())) {
            events.getItems().setAll(rows);
        }
    }
}
