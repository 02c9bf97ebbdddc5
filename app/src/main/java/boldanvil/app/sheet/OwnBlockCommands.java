package boldanvil.app.sheet;

import boldanvil.app.model.OwnShelf;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.ConfirmCard;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.edit.OwnUses;
import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javafx.application.Platform;

/** What can be done with own blocks. */
final class OwnBlockCommands {
    private final PageHost host;
    private final SheetCanvas canvas;
    private final SheetEdits edits;
    private final StockPane stock;
    private final OwnShelf shelf;
    private final OwnBlockBar bar = new OwnBlockBar(this::allow, this::detachOpen);

    OwnBlockCommands(PageHost host, SheetCanvas canvas, StockPane stock) {
        this.host = host;
        this.canvas = canvas;
        this.stock = stock;
        edits = host.edits();
        shelf = new OwnShelf(host.background(), Platform::runLater, this::offer, f -> host.showMessage(f.toString()));
    }

    /** What is above the sheet of an own block. */
    OwnBlockBar bar() {
        return bar;
    }

    /** The own blocks in the folder of the user. */
    Library inFolder() {
        return shelf.library();
    }

    /** Another project was opened. */
    void opened() {
        shelf.read();
        edits.forgetAllowed();
    }

    /** Another sheet is open, or the project has changed. */
    void refresh() {
        Project p = workspace().project();
        bar.show(p, open(p).orElse(null), edits.isAllowed(canvas.ref()));
        offer();
    }

    /** Offers the own blocks of the project, and those of the user's folder that it does not have. */
    private void offer() {
        Library mine = workspace().project().library();
        List<OwnBlock> all = new ArrayList<>(mine.all());
        shelf.library().all().stream().filter(b -> !mine.blocks().containsKey(b.id())).forEach(all::add);
        stock.offer(all);
    }

    /** Allows changes of the own block whose sheet is open, for all uses. */
    private void allow() {
        open(workspace().project()).ifPresent(b -> edits.allow(b.id()));
        refresh();
        canvas.requestFocus();
    }

    /** Detaches the use whose sheet is open; its own sheet opens instead. */
    private void detachOpen() {
        String path = host.navigator().path();
        Places.find(workspace().project(), path).filter(u -> !u.block().inner().contains("/")).ifPresentOrElse(
                u -> host.attempt(() -> edits.detachOwn(u.sheet(), path.substring(0, path.lastIndexOf('/')), u.block().id())),
                () -> host.showMessage("Go to the parent sheet, and detach the use there."));
    }

    List<Command> all() {
        return List.of(Command.of("Keep as an own block …", "", this::keep), Command.of("Edit the own block …", "", this::define),
                Command.of("Detach the use of an own block", "", this::detach),
                Command.of("Save the own block to your folder", "", this::save),
                Command.of("Update the own block from your folder", "", this::update),
                Command.of("Delete the own block", "", this::remove));
    }

    private Workspace workspace() {
        return host.workspace();
    }

    private Optional<Block> selected() {
        SheetRef ref = canvas.ref();
        return ref == null || canvas.selection().size() != 1 ? Optional.empty()
                : workspace().project().sheet(ref).flatMap(s -> s.block(canvas.selection().iterator().next()));
    }

    /** The own block of the selected use, or that whose sheet is open. */
    private Optional<OwnBlock> chosen() {
        Project p = workspace().project();
        var own = selected().flatMap(p.library()::of).or(() -> open(p));
        if (own.isEmpty()) {
            host.showMessage("Select a use of an own block first.");
        }
        return own;
    }

    /** The own block whose sheet is open. */
    private Optional<OwnBlock> open(Project p) {
        SheetRef ref = canvas.ref();
        return ref == null || !OwnBlock.holds(ref.sheet()) ? Optional.empty() : p.library().find(OwnBlock.owner(ref.sheet()));
    }

    private void keep() {
        Project p = workspace().project();
        SheetRef ref = canvas.ref();
        var block = selected().filter(b -> p.part(ref.part()).flatMap(q -> q.sheet(b.inner())).isPresent() && !OwnBlock.holds(b.inner()));
        if (block.isEmpty()) {
            host.showMessage("Select a subsystem first.");
            return;
        }
        Block b = block.get();
        var about = new OwnBlock("", b.name(), "", "", "", "", "", OwnUses.candidates(p, ref, b.id()).stream()
                .map(v -> OwnUses.parameter(p, v)).toList(), List.of(Sheet.empty("")));
        String path = host.navigator().path();
        OwnBlockCard.show(canvas, about, "Keep", given -> refusal(() -> edits.keepOwn(ref, path, b.id(), given)));
    }

    private void define() {
        chosen().ifPresent(own -> OwnBlockCard.show(canvas, own, "Change", given -> refusal(() -> edits.defineOwn(given))));
    }

    private static String refusal(Runnable edit) {
        try {
            edit.run();
            return "";
        } catch (FindingException e) {
            var f = e.findings().getFirst();
            return f.cause() + " " + f.cure();
        }
    }

    private void detach() {
        selected().ifPresentOrElse(b -> host.attempt(() -> edits.detachOwn(canvas.ref(), host.navigator().path(), b.id())),
                () -> host.showMessage("Select a use of an own block first."));
    }

    private void save() {
        chosen().ifPresent(own -> host.workOut(() -> {
            shelf.save(own, workspace().project().library());
            return own.title();
        }, title -> host.showMessage("'" + title + "' is in your folder and in the stock of every project.")));
    }

    private void update() {
        chosen().ifPresent(own -> shelf.find(own.id()).filter(b -> !b.equals(own)).ifPresentOrElse(newer -> {
            List<String> uses = OwnUses.of(workspace().project(), own.id());
            Map<String, Runnable> ways = new LinkedHashMap<>();
            ways.put("Update", () -> edits.defineOwn(newer));
            ways.put("Keep", () -> { });
            ConfirmCard.show(canvas.getScene().getWindow(), "Update '" + own.title() + "' from your folder? This changes "
                    + (uses.size() == 1 ? "1 use:" : uses.size() + " uses:") + "\n" + String.join("\n", uses.stream().limit(12).toList())
                    + (uses.size() > 12 ? "\nand " + (uses.size() - 12) + " more" : ""), ways);
        }, () -> host.showMessage("'" + own.title() + "' is the same as in your folder, or is not there.")));
    }

    private void remove() {
        chosen().ifPresent(own -> host.attempt(() -> edits.removeOwn(own.id())));
    }
}
