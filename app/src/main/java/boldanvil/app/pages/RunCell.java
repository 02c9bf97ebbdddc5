package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import java.util.Map;
import javafx.scene.control.ListCell;

/** A line of the list of runs, and what is known of a run as text. */
final class RunCell extends ListCell<RunShelf.Entry> {
    @Override
    protected void updateItem(RunShelf.Entry e, boolean empty) {
        super.updateItem(e, empty);
        setText(empty || e == null ? null : (e.note().starred() ? "★ " : "") + e.note()
                .title() + "   " + Figures.text(e.note().seconds(), 4) + " s"
                + (e.note().whole() ? "" : "   incomplete") + "\n" + (e.note().name().isEmpty() ? "" : e.note().rig() + "   ")
                + e.note().startedAt() + "   " + switch (e.note().changes().size()) {
                    case 0 -> "no changes";
                    case 1 -> "1 change";
                    default -> e.note().changes().size() + " changes";
                });
    }

    /** What is known of a run. */
    static String describe(RunShelf.Entry e) {
        RunNote n = e.note();
        var text = new StringBuilder();
        if (!n.name().isEmpty()) {
            text.append(n.name()).append("\n");
        }
        text.append("Rig ").append(n.rig()).append(", started ").append(n.startedAt()).append(" UTC, ").append(Figures.text(n.seconds(), 5))
                .append(" s");
        if (!n.whole()) {
            text.append("\nIncomplete or still running. This is what was recorded.");
        }
        if (n.step() > 0) {
            text.append("\nSample time ").append(Figures.seconds(n.step()));
        }
        n.devices().entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(
                d -> text.append("\n").append(d.getKey()).append(": ").append(d.getValue())
                .append(n.images().containsKey(d.getKey()) ? ", image " + n.images().get(d.getKey())
                .substring(0, Math.min(10, n.images().get(d.getKey()).length())) + "…" : ""));
        n.changes().stream().limit(4).forEach(c -> text.append("\n").append(c));
        if (n.changes().size() > 4) {
            text.append("\n… ").append(n.changes().size() - 4).append(" more changes");
        }
        n.findings().stream().limit(2).forEach(f -> text.append("\n").append(f));
        if (!n.remark().isEmpty()) {
            text.append("\n“").append(n.remark()).append("”");
        }
        return text.toString();
    }
}
