package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.model.PastRun;
import boldanvil.app.page.PageHost;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.ComboBox;
import javafx.util.StringConverter;

/** A choice of the last run and of those on the shelf, which is read in the background. */
final class RunChoice extends ComboBox<PastRun> {
    private final PageHost host;
    private final boolean optional;
    private List<String> taps = List.of();

    /** @param optional whether none may be chosen */
    RunChoice(PageHost host, String id, String prompt, boolean optional) {
        this.host = host;
        this.optional = optional;
        setId(id);
        setPromptText(prompt);
        setMaxWidth(Double.MAX_VALUE);
        setConverter(new StringConverter<>() {
            @Override
            public String toString(PastRun r) {
                return r == null ? prompt : r.title().isEmpty() ? "Last run of '" + r.rig() + "', " + Figures.seconds(r.end()) : r.title();
            }

            @Override
            public PastRun fromString(String text) {
                return null;
            }
        });
        setOnShowing(_ -> refresh());
        valueProperty().addListener((_, _, r) -> chosen(r));
    }

    /** The last run at once; those on the shelf as soon as they are read. */
    private void refresh() {
        List<PastRun> now = new ArrayList<>();
        if (optional) {
            now.add(null);
        }
        host.session().run().ifPresent(r -> now.add(PastRun.of(r)));
        show(now);
        host.workspace().folder().ifPresent(f -> host.workOut(() -> new RunShelf(f.resolve("runs")).list().stream().map(PastRun::of)
                .toList(),
                shelf -> {
            now.addAll(shelf);
            show(now);
        }));
    }

    private void show(List<PastRun> runs) {
        PastRun before = getValue();
        getItems().setAll(runs);
        setValue(runs.stream().filter(r -> before != null && r != null && r.title().equals(before.title())).findFirst().orElse(before));
    }

    private void chosen(PastRun r) {
        taps = List.of();
        if (r != null && r.closes()) {
            host.workOut(() -> r.read(RunChoice::names), found -> {
                if (getValue() == r) {
                    taps = found;
                }
            });
        } else if (r != null) {
            taps = r.read(RunChoice::names);
        }
    }

    private static List<String> names(Samples samples) {
        return samples.columns().stream().map(Column::name).toList();
    }

    /** Chooses the last run of this window. */
    void chooseLast() {
        host.session().run().ifPresent(r -> setValue(PastRun.of(r)));
    }

    /** Taps of the chosen run, or of the last one; none, with a message, where there is no run. */
    List<String> taps() {
        if (getValue() == null) {
            chooseLast();
        }
        if (getValue() == null) {
            host.showMessage("Choose a run, or run the rig first, so that there is a record.");
        }
        return taps;
    }

    void clear() {
        setValue(null);
        getItems().clear();
    }
}
