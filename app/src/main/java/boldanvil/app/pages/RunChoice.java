package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.model.PastRun;
import boldanvil.app.page.PageHost;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.ComboBox;
import javafx.util.StringConverter;

/** A choice of the last run and of those on the shelf. */
final class RunChoice extends ComboBox<PastRun> {
    private final PageHost host;
    private final boolean optional;

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
    }

    private void refresh() {
        PastRun before = getValue();
        List<PastRun> now = runs();
        getItems().setAll(now);
        setValue(now.stream().filter(r -> before != null && r != null && r.title().equals(before.title())).findFirst().orElse(before));
    }

    private List<PastRun> runs() {
        List<PastRun> all = new ArrayList<>();
        if (optional) {
            all.add(null);
        }
        host.session().run().ifPresent(r -> all.add(PastRun.of(r)));
        host.workspace().folder().ifPresent(f -> new RunShelf(f.resolve("runs")).list().forEach(e -> all.add(PastRun.of(e))));
        return all;
    }

    /** Chooses the last run. */
    void chooseLast() {
        runs().stream().filter(r -> r != null).findFirst().ifPresent(this::setValue);
    }

    /** Taps of the chosen run, or of the last one; none, with a message, where there is no run. */
    List<String> taps() {
        if (getValue() == null) {
            chooseLast();
        }
        if (getValue() == null) {
            host.showMessage("Run the rig first, so that there is a record.");
            return List.of();
        }
        return getValue().read(samples -> samples.columns().stream().map(Column::name).toList());
    }

    void clear() {
        setValue(null);
        getItems().clear();
    }
}
