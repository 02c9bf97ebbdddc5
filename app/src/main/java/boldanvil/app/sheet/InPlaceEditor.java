package boldanvil.app.sheet;

import boldanvil.app.model.SheetEdits;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.StackPane;

/** A field over a plate, to change its name or its main value where they stand. Enter takes it, Escape leaves it. */
final class InPlaceEditor {
    private final SheetCanvas canvas;
    private final SheetEdits edits;
    private final Function<String, Optional<Block>> block;
    private final Function<Block, Optional<BlockType>> type;

    /**
     * @param block the block of the open sheet with an id
     * @param type the type of a block
     */
    InPlaceEditor(SheetCanvas canvas, SheetEdits edits, Function<String, Optional<Block>> block,
            Function<Block, Optional<BlockType>> type) {
        this.type = type;
        this.canvas = canvas;
        this.edits = edits;
        this.block = block;
    }

    /** Opens the field over the title of a plate, or over its summary. */
    void open(Node n, boolean name) {
        SheetRef ref = canvas.ref();
        if (name) {
            show(n, n.title(), 4, "edit-name", text -> edits.rename(ref, n.id(), text.strip()));
            return;
        }
        block.apply(n.id()).ifPresent(b -> type.apply(b).flatMap(InPlaceEditor::main).ifPresent(p -> show(n,
                new Settings(type.apply(b).orElseThrow(), b.settings()).given(p.name()), 23, "edit-value",
                text -> edits.set(ref, n.id(), p.name(), text.strip()))));
    }

    /** The first parameter that is a value or a text of one line. */
    static Optional<Parameter> main(BlockType type) {
        return type.parameters().stream().filter(p -> p.kind() != Parameter.Kind.CHOICE && p.kind() != Parameter.Kind.SOURCE
                && !p.name().equals("sheet")).findFirst();
    }

    private void show(Node n, String text, double down, String id, Consumer<String> take) {
        var at = canvas.inPane(n.x() + 8, n.y() + down);
        var field = new TextField(text);
        field.setId(id);
        // The sheet below has keys of its own, which what is typed here must not reach.
        var holder = new StackPane(field);
        holder.setManaged(false);
        holder.addEventHandler(KeyEvent.ANY, KeyEvent::consume);
        canvas.getChildren().add(holder);
        holder.resizeRelocate(at.getX(), at.getY() - 4, Math.max(110, n.width() * canvas.view().zoom() - 12), 27);
        boolean[] open = {true};
        Runnable close = () -> {
            if (open[0]) {
                open[0] = false;
                canvas.getChildren().remove(holder);
                canvas.requestFocus();
            }
        };
        Runnable commit = () -> {
            if (open[0]) {
                close.run();
                if (!field.getText().equals(text)) {
                    take.accept(field.getText());
                }
            }
        };
        field.setOnAction(_ -> commit.run());
        field.addEventHandler(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.ESCAPE) {
                close.run();
            }
        });
        field.focusedProperty().addListener((_, _, has) -> {
            if (!has) {
                commit.run();
            }
        });
        field.requestFocus();
        field.selectAll();
    }
}
