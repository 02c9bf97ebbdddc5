package boldanvil.core.board;

import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Finds conflicts between a part's terminals and the board it is patched to. */
public final class PatchCheck {
    private PatchCheck() {}

    /**
     * Checks one part.
     *
     * @param boards the project's boards
     * @param program the part's program
     * @param required whether every terminal needs a row, because some rig puts the part on a device
     */
    public static List<Finding> check(Boards boards, Program program, Patch patch, boolean required) {
        List<Finding> findings = new ArrayList<>();
        var board = boards.find(patch.board());
        String patchPlace = "patch · " + program.name();
        if (board.isEmpty()) {
            return List.of(Finding.error(patchPlace, "There is no board '" + patch.board() + "'.",
                    "Boards are: " + String.join(", ", boards.names()) + "."));
        }
        Map<String, String> pinOwner = new HashMap<>();
        Map<String, String> channelOwner = new HashMap<>();
        for (Port port : program.ports()) {
            if (port.terminal() == null) {
                if (required) {
                    findings.add(Finding.error(port.path(), "The part runs on a device, but its port '" + port.name()
                            + "' is no terminal.", "Replace the inlet or outlet by a terminal."));
                }
                continue;
            }
            String place = patchPlace + "/" + port.name();
            var row = patch.row(port.name());
            if (row.isEmpty() || row.get().peripheral().isEmpty() || row.get().pin().isEmpty()) {
                if (required) {
                    findings.add(Finding.error(place, "The terminal has no peripheral and pin.",
                            "Choose them on the patch sheet."));
                }
                continue;
            }
            findings.addAll(row(board.get(), port, row.get(), place, pinOwner, channelOwner));
        }
        for (Patch.Row row : patch.rows()) {
            if (program.port(row.terminal()).isEmpty()) {
                findings.add(Finding.doubt(patchPlace + "/" + row.terminal(), "There is no such terminal on the sheet.",
                        "Remove the row, or name the terminal so."));
            }
        }
        return findings;
    }

    private static List<Finding> row(Board board, Port port, Patch.Row row, String place, Map<String, String> pinOwner,
            Map<String, String> channelOwner) {
        List<Finding> findings = new ArrayList<>();
        var channel = board.channel(row.peripheral(), port.terminal());
        if (channel.isEmpty()) {
            findings.add(Finding.error(place, "'" + row.peripheral() + "' is no " + port.terminal().label() + " of "
                    + board.title() + ".", "Choose one of its " + port.terminal().label() + " channels."));
            return findings;
        }
        if (!channel.get().pins().contains(row.pin())) {
            findings.add(Finding.error(place, row.peripheral() + " does not come out at pin " + row.pin() + ".",
                    "Choose " + String.join(" or ", channel.get().pins()) + "."));
        }
        for (String pin : row.pin().split(",")) {
            String other = pinOwner.putIfAbsent(pin.strip(), port.name());
            if (other != null) {
                findings.add(Finding.error(place, "Pin " + pin.strip() + " is taken by terminal '" + other + "' too.",
                        "Give one of the two another pin."));
            }
        }
        String other = channelOwner.putIfAbsent(row.peripheral(), port.name());
        if (other != null && findings.isEmpty()) {
            findings.add(Finding.error(place, row.peripheral() + " serves terminal '" + other + "' too.",
                    "Give one of the two another channel."));
        }
        if (port.terminal() == boldanvil.core.program.TerminalKind.PWM_OUT) {
            var timer = PatchNumbers.timer(board, port);
            double wanted = port.numbers().get("frequency");
            if (timer == null) {
                findings.add(Finding.error(place, "The timer cannot make " + wanted + " Hz.",
                        "Choose a frequency the timer can reach."));
            } else if (Math.abs(timer.hertz() - wanted) > 0.01 * wanted) {
                findings.add(Finding.doubt(place, "The timer makes " + timer.hertz() + " Hz instead of " + wanted + " Hz.",
                        "Choose a frequency that divides the clock better."));
            }
        }
        return findings;
    }

    /** Whether some rig of the project puts a part on a device. */
    public static boolean onDevice(Project project, String part) {
        return project.rigs().stream().anyMatch(r -> r.place(part).mode() == Rig.Mode.DEVICE);
    }
}
