package boldanvil.core.patch;

import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.peripheral.BoardSetup;
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
                rows.add(List.of(name, pin == null ? "" : Integer.toString(pin.position()), pin == null ? "" : pin.side(),
                        t.name() + Peripherals.of(t).pinRole(i),
                        t.kind().label(), setup.patch().row(t.name()).map(r -> r.peripheral()).orElse(""), t.isInput() ? "in" : "out",
                        Peripherals.of(t).level(setup, t),
                        setup.patch().row(t.name()).map(r -> r.wire()).orElse("")));
            }
        }
        return new Table("Wiring of " + setup.program().title() + " on " + setup.board().title(),
                List.of("Pins are named as printed on the board; the position is that of the package."),
                List.of("Pin", "Position", "Side", "Terminal", "Kind", "Peripheral", "Direction", "Level", "Wire"), rows);
    }
}
