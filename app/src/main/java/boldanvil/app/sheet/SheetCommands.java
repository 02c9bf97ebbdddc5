package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.Reports;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.page.Command;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Copies;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.sheet.Arrangement;
import boldanvil.core.sheet.AutoLayout;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.SheetScene;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.UnaryOperator;
import javafx.scene.input.Clipboard;
import javafx.stage.FileChooser;

/** What can be done with the selection of a sheet. */
final class SheetCommands {
    private static final String EDIT = "Edit";

    private final PageHost host;
    private final SheetCanvas canvas;
    private final SheetEdits edits;
    private final Navigator navigator;
    private final Command paste = Command.of("Paste", "Shortcut+V", this::paste).in(EDIT);
    private final Command delete;
    private final Command dissolve = Command.of("Dissolve the subsystem", "Shortcut+Shift+G", this::ungroup);
    private final Command layOut = Command.of("Lay out", "Shortcut+Shift+O", this::layOut);
    private final Command route = Command.of("Route the selected wires again", "", this::route);
    private final Command frame = Command.of("Add a frame", "", () -> mark(Mark.Kind.FRAME));
    private final Command note = Command.of("Add a note", "", () -> mark(Mark.Kind.NOTE));

    SheetCommands(PageHost host, SheetCanvas canvas) {
        this.host = host;
        this.canvas = canvas;
        edits = host.edits();
        navigator = host.navigator();
        delete = Command.of("Delete", "", canvas::deleteSelection).in(EDIT);
    }

    /** Commands of the menu Edit. */
    List<Command> editing() {
        return List.of(Command.of("Cut", "Shortcut+X", this::cut).in(EDIT), Command.of("Copy", "Shortcut+C", this::copy).in(EDIT),
                paste, Command.of("Duplicate", "Shortcut+D", this::duplicate).in(EDIT),
                delete,
                Command.of("Delete and join the wires", "Shift+DELETE", () -> edits.deleteAndJoin(canvas.ref(), canvas.selection()))
                .in(EDIT),
                Command.of("Select all", "Shortcut+A", this::selectAll).in(EDIT));
    }

    /** Commands that work on what is selected. */
    List<Command> arranging() {
        return List.of(Command.of("Make a subsystem of the selection", "Shortcut+G", this::group),
                dissolve,
                Command.of("Connect the two selected blocks", "Shortcut+R", this::connect),
                Command.of("Mirror", "Shortcut+M", () -> look("mirror", Look::mirroredOnce)),
                Command.of("Turn", "Shortcut+Shift+R", () -> look("turn", Look::turnedOnce)),
                Command.of("Align left edges", "", () -> arrange("align", Arrangement::left)),
                Command.of("Align top edges", "", () -> arrange("align", Arrangement::top)),
                Command.of("Align centres in a row", "", () -> arrange("align", Arrangement::middle)),
                Command.of("Distribute in a row", "", () -> arrange("distribute", Arrangement::distributeAcross)),
                Command.of("Distribute in a column", "", () -> arrange("distribute", Arrangement::distributeDown)),
                layOut,
                Command.of("Lay out, keep what was laid by hand", "", this::layOutRest),
                route,
                Command.of("Usual size and ports", "", () -> look("usual look", l -> new Look(l.turn(), l.mirrored(), 0, 0, List.of()))),
                frame, note,
                Command.of("Show or hide the grid", "", () -> canvas.gestures().showGrid(!canvas.gestures().isGridShown())));
    }

    /** Commands for the menu on empty paper. */
    List<Command> onPaper() {
        return List.of(paste, frame, note, layOut);
    }

    /** Commands for the menu on a wire. */
    List<Command> onWire() {
        return List.of(delete, route);
    }

    /** Commands for the menu on blocks, beside those of the menu Edit. */
    List<Command> onBlocks() {
        List<Command> some = new ArrayList<>(arranging());
        some.removeAll(onPaper());
        some.removeAll(onWire());
        return some;
    }

    /** Commands that write files. */
    List<Command> exporting() {
        return List.of(Command.of("Export the sheet …", "", this::exportSheet).in("Project"),
                Command.of("Export a report …", "", this::exportReport).in("Project"));
    }

    private void exportSheet() {
        var chooser = new FileChooser();
        chooser.setTitle("Export the sheet");
        chooser.getExtensionFilters().addAll(new FileChooser.ExtensionFilter("SVG drawing", "*.svg"),
                new FileChooser.ExtensionFilter("PDF document", "*.pdf"), new FileChooser.ExtensionFilter("PNG picture", "*.png"));
        var file = chooser.showSaveDialog(canvas.getScene().getWindow());
        if (file != null) {
            var scene = canvas.shown();
            String title = navigator.crumbs().getLast().title();
            write(() -> Reports.sheet(title, scene, file.toPath()), file.getName());
        }
    }

    private void exportReport() {
        var chooser = new FileChooser();
        chooser.setTitle("Export a report");
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("PDF document", "*.pdf"));
        var file = chooser.showSaveDialog(canvas.getScene().getWindow());
        if (file != null) {
            var review = host.workspace().review();
            write(() -> Reports.project(review, file.toPath()), file.getName());
        }
    }

    private void write(Runnable how, String name) {
        host.showMessage("Writing " + name + " …");
        host.workOut(() -> {
            how.run();
            return name;
        }, n -> host.showMessage("Wrote " + n + "."));
    }

    private boolean isShown() {
        return canvas.getParent() != null && canvas.isVisible() && canvas.isFocused();
    }

    private void copy() {
        if (isShown() && canvas.ref() != null && !(canvas.selection().isEmpty() && canvas.selectedMarks().isEmpty())) {
            Copies.text(edits.copy(canvas.ref(), canvas.selection(), canvas.selectedMarks()));
        }
    }

    private void cut() {
        if (isShown()) {
            copy();
            canvas.deleteSelection();
        }
    }

    private void paste() {
        if (isShown() && canvas.ref() != null) {
            host.attempt(() -> canvas.select(edits.paste(canvas.ref(), Clipboard.getSystemClipboard().getString())));
        }
    }

    private void duplicate() {
        if (canvas.ref() != null && !canvas.selection().isEmpty()) {
            canvas.select(edits.duplicate(canvas.ref(), canvas.selection(), 30, 30));
        }
    }

    private void selectAll() {
        if (isShown()) {
            canvas.select(new LinkedHashSet<>(canvas.shown().nodes().stream().map(SheetScene.Node::id).toList()));
        }
    }

    private SheetRef sheetWithSelection(int least, String what) {
        SheetRef ref = canvas.ref();
        if (ref == null || canvas.selection().size() < least) {
            host.showMessage(what);
            return null;
        }
        return ref;
    }

    private void group() {
        SheetRef ref = sheetWithSelection(1, "Select the blocks of the subsystem first.");
        if (ref != null) {
            Set<String> ids = canvas.selection();
            AskCard.show(canvas, "Name of the subsystem", "Subsystem", name -> {
                if (name.isBlank() || name.contains("/")) {
                    return "Enter a name without '/'.";
                }
                host.attempt(() -> canvas.select(Set.of(edits.group(ref, navigator.path(), ids, name.strip()))));
                return "";
            });
        }
    }

    private void ungroup() {
        SheetRef ref = sheetWithSelection(1, "Select a subsystem first.");
        if (ref != null) {
            host.attempt(() -> canvas.select(edits.ungroup(ref, navigator.path(), canvas.selection().iterator().next())));
        }
    }

    private void connect() {
        SheetRef ref = sheetWithSelection(2, "Select two blocks first.");
        if (ref != null) {
            var ids = canvas.selection().stream().sorted(java.util.Comparator.comparingDouble(
                    id -> canvas.shown().node(id).map(SheetScene.Node::x).orElse(0.0))).toList();
            edits.connectBlocks(ref, ids.get(0), ids.get(1));
        }
    }

    private void look(String name, UnaryOperator<Look> how) {
        if (!canvas.selection().isEmpty()) {
            edits.look(canvas.ref(), canvas.selection(), name, how);
        }
    }

    private void arrange(String name, java.util.function.Function<List<SheetScene.Node>, java.util.Map<String, SheetScene.Point>> how) {
        var nodes = canvas.shown().nodes().stream().filter(n -> canvas.selection().contains(n.id())).toList();
        if (nodes.size() < 2) {
            host.showMessage("Select two or more blocks first.");
            return;
        }
        edits.place(canvas.ref(), name, how.apply(nodes), false);
    }

    private void route() {
        edits.route(canvas.ref(), canvas.selectedWires());
    }

    private void layOut() {
        layOut(canvas.shown(), canvas.selection());
    }

    private void layOut(SheetScene scene, Set<String> ids) {
        host.workOut(() -> AutoLayout.of(scene, ids), places -> edits.place(canvas.ref(), "lay out", places, true));
    }

    /** Blocks at wires that were laid by hand stay where they are. */
    private void layOutRest() {
        var scene = canvas.shown();
        Set<String> ids = new LinkedHashSet<>(scene.nodes().stream().map(SheetScene.Node::id).toList());
        scene.links().stream().map(SheetScene.Link::wire).filter(w -> !w.lanes().isEmpty()).forEach(w -> {
            ids.remove(w.from());
            ids.remove(w.to());
        });
        if (ids.size() < 2) {
            host.showMessage("Every block is at a wire that was laid by hand.");
            return;
        }
        layOut(scene, ids);
    }

    private void mark(Mark.Kind kind) {
        SheetRef ref = canvas.ref();
        if (ref == null) {
            host.showMessage("Open a sheet first.");
            return;
        }
        var chosen = canvas.shown().nodes().stream().filter(n -> canvas.selection().contains(n.id())).toList();
        boolean frame = kind == Mark.Kind.FRAME;
        if (frame && !chosen.isEmpty()) {
            Box b = new SheetScene(chosen, List.of()).bounds();
            String id = edits.addMark(ref, kind, "Frame", b.x() - 30, b.y() - 40, b.width() + 60, b.height() + 80);
            canvas.select(Set.of(), Set.of(id), Set.of());
            return;
        }
        var at = canvas.toSheet(canvas.getWidth() / 2 - 100, canvas.getHeight() / 2 - 40);
        String id = edits.addMark(ref, kind, frame ? "Frame" : "Note", at.getX(), at.getY(), 220, frame ? 140 : 60);
        canvas.select(Set.of(), Set.of(id), Set.of());
    }
}
