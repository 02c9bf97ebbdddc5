package boldanvil.app.sheet;

import boldanvil.app.model.ContactValues;
import boldanvil.app.model.Figures;
import boldanvil.core.diagram.Block;
import boldanvil.core.network.Domain;
import boldanvil.core.stock.Elements;
import boldanvil.core.stock.Face;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Function;
import javafx.scene.control.Label;

/** Potentials and flows at the contacts of the element under the pointer, at the instant that is shown or now. */
final class ElementHover extends Label {
    private final ContactValues values;
    private final Function<String, Optional<Block>> blocks;
    private String shown;

    /** @param blocks the block with an id on the sheet that is shown */
    ElementHover(ContactValues values, Function<String, Optional<Block>> blocks) {
        this.values = values;
        this.blocks = blocks;
        getStyleClass().addAll("card", "element-hover");
        setManaged(false);
        setMouseTransparent(true);
        setVisible(false);
        setId("element-hover");
        values.onChange(this::refresh);
    }

    /** Follows the pointer; null for no block. */
    void over(String block, double x, double y) {
        shown = block;
        relocate(x + 14, y + 14);
        refresh();
    }

    private void refresh() {
        String text = shown == null || !values.isOn() ? "" : blocks.apply(shown).map(this::text).orElse("");
        setText(text);
        setVisible(!text.isEmpty());
        autosize();
    }

    private String text(Block b) {
        List<Face.Contact> contacts = Elements.contacts(b);
        StringBuilder lines = new StringBuilder();
        for (Face.Contact c : contacts) {
            value(b, Elements.potential(c)).ifPresent(v -> lines.append(lines.isEmpty() ? "" : "\n").append(pad(c.name()))
                    .append(figure(v, c.domain(), false))
                    .append(value(b, Elements.flow(c)).stream().mapToObj(f -> figure(f, c.domain(), true)).findFirst().orElse("")));
        }
        if (!lines.isEmpty() && contacts.size() == 2 && contacts.get(0).domain() == contacts.get(1).domain()) {
            var first = value(b, Elements.potential(contacts.get(0)));
            var second = value(b, Elements.potential(contacts.get(1)));
            if (first.isPresent() && second.isPresent()) {
                lines.append("\n").append(pad(contacts.get(0).name() + " − " + contacts.get(1).name()))
                        .append(figure(first.getAsDouble() - second.getAsDouble(), contacts.get(0).domain(), false));
            }
        }
        if (!contacts.isEmpty() && lines.isEmpty()) {
            lines.append(values.message());
        }
        return lines.isEmpty() ? "" : b.name() + "\n" + lines;
    }

    /** Whether the pointer is over an element whose values are wanted. */
    boolean isWanted() {
        return shown != null && blocks.apply(shown).filter(b -> !Elements.contacts(b).isEmpty()).isPresent();
    }

    private OptionalDouble value(Block b, String port) {
        return values.value(b.id(), port);
    }

    private static String pad(String name) {
        return String.format(Locale.ROOT, "%-9s", name);
    }

    private static String figure(double v, Domain d, boolean flow) {
        return String.format(Locale.ROOT, "%14s", Figures.text(v, 5, flow ? d.throughUnit() : d.acrossUnit())) + (flow ? " into it" : "");
    }
}
