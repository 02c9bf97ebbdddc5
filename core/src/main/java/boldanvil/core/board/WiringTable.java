package boldanvil.core.board;

import boldanvil.core.program.Terminal;
import boldanvil.core.report.Table;
import java.util.ArrayList;
import java.util.List;

/** The list for whoever builds the harness: every pin in use, what it is, and where its wire goes. */
public final class WiringTable {
    private WiringTable() {}

    /** A row for each pin, in the order of the terminals. */
    public static Table of(BoardSetup setup) {
        List<List<String>> rows = new ArrayList<>();
        for (Terminal t : setup.program().terminals()) {
            List<String> pins = setup.pins(t);
            for (int i = 0; i < pins.size(); i++) {
                String name = pins.get(i);
                int number = setup.board().pinNumber(name);
                var pin = number < 0 ? null : setup.board().pins().get(number);
                rows.add(List.of(name, pin == null ? "" : Integer.toString(pin.position()), pin == null ? "" : pin.side(), t.name() + role(t, i),
                        t.kind().label(), setup.patch().row(t.name()).map(r -> r.peripheral()).orElse(""), t.isInput() ? "in" : "out", level(setup, t),
                        setup.patch().row(t.name()).map(r -> r.wire()).orElse("")));
            }
        }
        return new Table("Wiring of " + setup.program().title() + " on " + setup.board().title(), List.of("Pins are named as printed on the board; the position is that of the package."),
                List.of("Pin", "Position", "Side", "Terminal", "Kind", "Peripheral", "Direction", "Level", "Wire"), rows);
    }

    /** Which of a terminal's pins one is. */
    private static String role(Terminal t, int i) {
        return switch (t.kind()) {
            case ENCODER_IN -> i == 0 ? " A" : " B";
            case INDEXED_ENCODER_IN -> List.of(" A", " B", " index").get(i);
            case PWM_PAIR_OUT -> i == 0 ? " high" : " low";
            case THREE_PHASE_OUT -> " " + "ABC".charAt(i / 2) + (i % 2 == 0 ? " high" : " low");
            case DELAY_IN -> i == 0 ? " first" : " second";
            default -> "";
        };
    }

    private static String level(BoardSetup setup, Terminal t) {
        return switch (t.kind()) {
            case ANALOG_IN, ANALOG_OUT -> "0 … " + PatchNumbers.sig(setup.scale(t).map(PinMath.Scale::volts).orElse(0.0)) + " V";
            default -> "0 / " + PatchNumbers.sig(setup.board().digital().highVolts()) + " V" + (t.texts().containsKey("active") ? ", active " + t.texts().get("active") : "")
                    + (t.texts().containsKey("pull") && !t.has("pull", "none") ? ", pull " + t.texts().get("pull") : "");
        };
    }
}
