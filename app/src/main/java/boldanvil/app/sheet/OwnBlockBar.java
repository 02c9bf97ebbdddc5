package boldanvil.app.sheet;

import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.edit.OwnUses;
import boldanvil.core.diagram.Project;
import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;

/** Above the sheet of an own block: whose it is, how many uses a change reaches, and what may be done. */
final class OwnBlockBar extends HBox {
    private static final int SHOWN = 2;

    private final Label text = new Label();
    private final Button edit = new Button();
    private final Button detach = new Button("Detach this use");

    /**
     * @param edit allows changes to the sheet
     * @param detach gives the use that is open sheets of its own
     */
    OwnBlockBar(Runnable edit, Runnable detach) {
        super(8);
        setId("own-bar");
        getStyleClass().add("instant-bar");
        setAlignment(Pos.CENTER_LEFT);
        text.setId("own-uses");
        text.getStyleClass().add("small");
        text.setMinWidth(0);
        HBox.setHgrow(text, Priority.ALWAYS);
        text.setMaxWidth(Double.MAX_VALUE);
        this.edit.setId("own-edit");
        this.edit.setMinWidth(USE_PREF_SIZE);
        this.edit.setOnAction(_ -> edit.run());
        this.detach.setId("own-detach");
        this.detach.setMinWidth(USE_PREF_SIZE);
        this.detach.setOnAction(_ -> detach.run());
        getChildren().addAll(text, this.edit, this.detach);
        show(null, null, true);
    }

    /** @param own the own block whose sheet is open; null for other sheets */
    void show(Project p, OwnBlock own, boolean allowed) {
        setVisible(own != null);
        setManaged(own != null);
        if (own == null) {
            return;
        }
        List<String> uses = OwnUses.of(p, own.id());
        String some = String.join(", ", uses.stream().limit(SHOWN).toList()) + (uses.size() > SHOWN ? " and " + (uses.size() - SHOWN)
                + " more" : "");
        text.setText("Own block '" + own.title() + "'" + (allowed ? ", changes reach " : ", used by ") + some);
        text.setTooltip(new Tooltip(String.join("\n", uses)));
        edit.setText(uses.size() == 1 ? "Edit" : "Edit for all " + uses.size() + " uses");
        edit.setVisible(!allowed);
        edit.setManaged(!allowed);
    }
}
