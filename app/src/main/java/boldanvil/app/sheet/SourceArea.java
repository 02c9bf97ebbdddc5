package boldanvil.app.sheet;

import boldanvil.app.widget.PopupCard;
import boldanvil.core.text.TextEditing;
import boldanvil.core.text.TextEditing.Kind;
import boldanvil.core.text.TextEditing.Proposal;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import javafx.animation.PauseTransition;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.stage.Popup;
import javafx.util.Duration;
import org.fxmisc.flowless.VirtualizedScrollPane;
import org.fxmisc.richtext.CodeArea;
import org.fxmisc.richtext.LineNumberFactory;
import org.fxmisc.richtext.model.StyleSpans;
import org.fxmisc.richtext.model.StyleSpansBuilder;

/**
 * Where Structured Text is written: pieces in different inks, findings underlined where they are, proposals while a name is written, and
 * the way to its declaration by Ctrl+click or Ctrl+Shift+D.
 */
final class SourceArea extends VirtualizedScrollPane<CodeArea> {
    /** A line and column of a finding, both from 1. */
    record Spot(int line, int column, boolean error) {}

    private static final int PROPOSED_FROM = 2;
    private static final int ROWS = 8;

    private final CodeArea area;
    private final PauseTransition pause = new PauseTransition(Duration.millis(120));
    private final ListView<Proposal> proposals = new ListView<>();
    private final Popup popup = new Popup();
    private List<Spot> spots = List.of();
    private boolean typed;

    SourceArea() {
        super(new CodeArea());
        area = getContent();
        area.setId("text-area");
        area.getStyleClass().addAll("mono", "source-area");
        area.setParagraphGraphicFactory(LineNumberFactory.get(area));
        area.plainTextChanges().subscribe(_ -> pause.playFromStart());
        pause.setOnFinished(_ -> {
            paint();
            if (typed) {
                propose(PROPOSED_FROM);
            }
            typed = false;
        });
        area.addEventFilter(KeyEvent.KEY_PRESSED, this::pressed);
        area.addEventHandler(KeyEvent.KEY_TYPED, _ -> typed = true);
        area.addEventHandler(MouseEvent.MOUSE_CLICKED, e -> {
            popup.hide();
            if (e.isShortcutDown()) {
                goToDeclaration();
            }
        });
        area.focusedProperty().addListener((_, _, now) -> {
            if (!now) {
                popup.hide();
            }
        });
        proposals.setId("proposals");
        proposals.setPrefSize(260, 24 * ROWS);
        proposals.setFocusTraversable(false);
        proposals.setCellFactory(_ -> new Cell());
        proposals.setOnMouseClicked(_ -> take());
        popup.setAutoHide(true);
        popup.getContent().add(proposals);
    }

    CodeArea area() {
        return area;
    }

    String text() {
        return area.getText();
    }

    /** Shows another text, from its beginning. */
    void open(String text) {
        area.replaceText(text);
        area.getUndoManager().forgetHistory();
        area.moveTo(0);
        area.requestFollowCaret();
        paint();
    }

    /** Puts another text in the place of this one; it can be undone. */
    void replace(String text) {
        int at = area.getCaretPosition();
        area.replaceText(text);
        area.moveTo(Math.min(at, area.getLength()));
        paint();
    }

    /** Underlines findings. */
    void mark(List<Spot> findings) {
        if (!spots.equals(findings)) {
            spots = List.copyOf(findings);
            paint();
        }
    }

    /** Shows a place. */
    void jump(int line, int column) {
        int paragraph = Math.clamp(line - 1, 0, area.getParagraphs().size() - 1);
        area.moveTo(paragraph, Math.clamp(column - 1, 0, area.getParagraphLength(paragraph)));
        area.requestFollowCaret();
        area.requestFocus();
    }

    private void paint() {
        String text = area.getText();
        if (text.isEmpty()) {
            return;
        }
        var spans = new StyleSpansBuilder<Collection<String>>();
        int done = 0;
        for (var piece : TextEditing.of(text).pieces()) {
            if (piece.start() >= done) {
                spans.add(List.of(), piece.start() - done);
                spans.add(piece.kind() == Kind.OTHER ? List.of() : List.of(piece.kind().name().toLowerCase(Locale.ROOT)),
                        piece.end() - piece.start());
                done = piece.end();
            }
        }
        spans.add(List.of(), text.length() - done);
        StyleSpans<Collection<String>> all = spans.create();
        for (Spot s : spots) {
            all = underlined(all, s);
        }
        area.setStyleSpans(0, all);
    }

    /** From the place of a finding to the end of the word there. */
    private StyleSpans<Collection<String>> underlined(StyleSpans<Collection<String>> spans, Spot s) {
        if (s.line() < 1 || s.line() > area.getParagraphs().size()) {
            return spans;
        }
        int length = area.getParagraphLength(s.line() - 1);
        int from = Math.clamp(s.column() - 1, 0, Math.max(0, length - 1));
        String line = area.getParagraph(s.line() - 1).getText();
        int to = from;
        while (to < line.length() && Character.isLetterOrDigit(line.charAt(to))) {
            to++;
        }
        int start = area.getAbsolutePosition(s.line() - 1, from);
        int size = Math.max(1, to - from);
        if (start + size > area.getLength()) {
            return spans;
        }
        var mark = new StyleSpansBuilder<Collection<String>>().add(List.of(), start).add(List.of(s.error() ? "wrong" : "odd"), size)
                .add(List.of(), area.getLength() - start - size).create();
        return spans.overlay(mark, (a, b) -> {
            List<String> both = new ArrayList<>(a);
            both.addAll(b);
            return both;
        });
    }

    private void pressed(KeyEvent e) {
        if (e.getCode() == KeyCode.SPACE && e.isShortcutDown()) {
            propose(0);
            e.consume();
        } else if (e.getCode() == KeyCode.D && e.isShortcutDown() && e.isShiftDown()) {
            goToDeclaration();
            e.consume();
        } else if (popup.isShowing()) {
            switch (e.getCode()) {
                case DOWN -> select(1, e);
                case UP -> select(-1, e);
                case ENTER, TAB -> {
                    take();
                    e.consume();
                }
                case ESCAPE -> {
                    popup.hide();
                    e.consume();
                }
                case LEFT, RIGHT, HOME, END -> popup.hide();
                default -> { }
            }
        }
    }

    private void select(int by, KeyEvent e) {
        int n = proposals.getItems().size();
        proposals.getSelectionModel().select(Math.floorMod(proposals.getSelectionModel().getSelectedIndex() + by, n));
        proposals.scrollTo(proposals.getSelectionModel().getSelectedIndex());
        e.consume();
    }

    /** Proposes what may be written here once enough letters are there; behind a dot at once. */
    private void propose(int letters) {
        int at = area.getCaretPosition();
        var editing = TextEditing.of(area.getText());
        int start = editing.start(at);
        boolean member = start > 0 && area.getText().charAt(start - 1) == '.';
        List<Proposal> found = at - start >= letters || member ? editing.proposals(at) : List.of();
        var caret = area.getCaretBounds();
        if (found.isEmpty() || caret.isEmpty() || !area.isFocused()) {
            popup.hide();
            return;
        }
        proposals.getItems().setAll(found);
        proposals.getSelectionModel().selectFirst();
        PopupCard.dress(proposals, getScene().getWindow());
        popup.show(getScene().getWindow(), caret.get().getMinX(), caret.get().getMaxY() + 2);
    }

    private void take() {
        var chosen = proposals.getSelectionModel().getSelectedItem();
        popup.hide();
        if (chosen != null) {
            int at = area.getCaretPosition();
            area.replaceText(TextEditing.of(area.getText()).start(at), at, chosen.text());
        }
    }

    private void goToDeclaration() {
        TextEditing.of(area.getText()).declaration(area.getCaretPosition()).ifPresent(at -> {
            area.moveTo(at);
            area.requestFollowCaret();
        });
    }

    private static final class Cell extends ListCell<Proposal> {
        @Override
        protected void updateItem(Proposal p, boolean empty) {
            super.updateItem(p, empty);
            setText(null);
            if (empty || p == null) {
                setGraphic(null);
                return;
            }
            var name = new Label(p.text());
            name.getStyleClass().add("mono");
            var remark = new Label(p.remark());
            remark.getStyleClass().addAll("small", "faint");
            var gap = new Region();
            HBox.setHgrow(gap, Priority.ALWAYS);
            setGraphic(new HBox(8, name, gap, remark));
        }
    }
}
