package boldanvil.core.target;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.peripheral.Fact;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** What is wrong with the parts a rig puts on targets, and with their channels. */
public final class MappingCheck {
    private final Project project;
    private final LoweredSystem system;
    private final Rig rig;
    private final List<Finding> findings = new ArrayList<>();

    private MappingCheck(Project project, LoweredSystem system, Rig rig) {
        this.project = project;
        this.system = system;
        this.rig = rig;
    }

    /** @param system of the project as the rig has it */
    public static List<Finding> check(Project project, LoweredSystem system, Rig rig) {
        var check = new MappingCheck(project, system, rig);
        List<TargetPart> parts = new ArrayList<>();
        for (String part : rig.onTargets()) {
            if (project.part(part).isPresent() && check.board(part) && system.program(part).isPresent()) {
                parts.add(TargetPart.of(project, system, rig, part));
            }
        }
        parts.forEach(check::part);
        check.shared(parts);
        return check.findings;
    }

    private boolean board(String part) {
        var boards = Boards.of(project);
        var place = rig.place(part);
        var at = Place.rig(rig.name(), part);
        var board = boards.target(place.device());
        if (board.isEmpty()) {
            findings.add(Finding.error(at, "There is no real-time target '" + place.device() + "'.", "Targets are: "
                    + String.join(", ", boards.names(b -> b.target() != null)) + "."));
            return false;
        }
        int cores = board.get().target().cores();
        if (place.seat().core() > cores) {
            findings.add(Finding.error(at, board.get().title() + " has no core " + place.seat().core() + ".",
                    "Choose one of the cores 1 to " + cores + "."));
            return false;
        }
        return true;
    }

    private void part(TargetPart p) {
        Board board = p.board();
        var at = Place.rig(rig.name(), p.name());
        if (p.program().tickNanos() < board.target().leastStepNanos()) {
            findings.add(Finding.error(at, "The part has a step of " + micros(p.program().tickSeconds()) + ", the shortest of "
                    + board.title() + " is " + micros(board.target().leastStepNanos() / 1e9) + ".",
                    "Set a step in the rig, such as " + micros(board.target().leastStepNanos() / 1e9) + "."));
        }
        if (!p.mapping().board().equals(board.name())) {
            findings.add(Finding.warning(Place.mapping(p.name(), ""), "The channels are those of '" + p.mapping().board() + "', the rig '"
                    + rig.name() + "' uses " + board.title() + ".", "Assign the channels again."));
        }
        var crossings = Crossing.of(system, rig, p.name());
        crossings.forEach(c -> crossing(p, c));
        if (p.mapping().budgetSeconds() > 0 && p.longestLatency() > p.mapping().budgetSeconds() && !crossings.isEmpty()) {
            findings.add(Finding.warning(Place.mapping(p.name(), ""), "From an edge to the outputs that follow it takes up to "
                    + micros(p.longestLatency()) + "; the budget is " + micros(p.mapping().budgetSeconds()) + ".",
                    "Choose a shorter step, or a larger budget."));
        }
    }

    private void crossing(TargetPart p, Crossing c) {
        var at = Place.mapping(p.name(), c.port().name());
        if (c.kind().isEmpty()) {
            findings.add(Finding.error(at, p.board().title() + " has no channel for this signal.",
                    "Remove the terminal, or run the part on another device."));
            return;
        }
        var row = p.mapping().rowOf(c.port().name());
        if (row.channel().isEmpty()) {
            findings.add(Finding.error(at, "The signal has no channel. It is wired to '" + c.farPart() + "', outside the target.",
                    "Assign a channel '" + c.kind().get().label() + "' on the page Mapping."));
            return;
        }
        var channel = TargetChannel.find(p.board(), row.channel());
        if (channel.isEmpty()) {
            findings.add(Finding.error(at, p.board().title() + " has no channel '" + row.channel() + "'.",
                    "Choose one of its channels '" + c.kind().get().label() + "'."));
        } else if (!channel.get().kind().serves(c.kind().get())) {
            findings.add(Finding.error(at, row.channel() + " is a channel '" + channel.get().kind().label() + "'; the signal needs '"
                    + c.kind().get().label() + "'.", "Choose a channel of that kind."));
        } else {
            values(c, row, channel.get(), at);
        }
    }

    private void values(Crossing c, Mapping.Row row, TargetChannel channel, Place at) {
        if (channel.kind().isAnalog()) {
            if (row.scale() == 0 || !Double.isFinite(row.scale()) || !Double.isFinite(row.offset())) {
                findings.add(Finding.error(at, "The scale of an analog channel must be finite and not 0.",
                        "Enter the volts for each unit of the signal, such as 1."));
            }
            if (row.minimum() >= row.maximum()) {
                findings.add(Finding.error(at, "The minimum is not below the maximum.", "Enter the least voltage first."));
            } else if (row.minimum() >= channel.group().volts() || row.maximum() <= -channel.group().volts()) {
                findings.add(Finding.error(at, row.channel() + " reaches " + Fact.sig(-channel.group().volts()) + " V to "
                        + Fact.sig(channel.group().volts()) + " V; the limits leave nothing of that.", "Correct the limits."));
            }
        }
        if (channel.kind().isEncoder()) {
            double lines = c.encoderLines();
            if (!(row.lines() >= 1)) {
                findings.add(Finding.error(at, "An encoder has no lines.", "Enter the lines of a turn, such as 512."));
            } else if (lines > 0 && lines != row.lines()) {
                findings.add(Finding.warning(at, "The encoder has " + Fact.sig(row.lines()) + " lines here and " + Fact.sig(lines)
                        + " at the terminal '" + c.terminal().owner() + "'.", "Enter the same number at both ends."));
            }
        }
    }

    /** What parts have in common: channels of one target, and cores. */
    private void shared(List<TargetPart> parts) {
        Map<String, String> users = new HashMap<>();
        Map<String, TargetPart> last = new HashMap<>();
        for (TargetPart p : parts) {
            for (var m : p.mapped()) {
                String other = m.channel().kind().isShared() ? null
                        : users.putIfAbsent(p.seat().target() + " " + m.channel().id(), p.name() + "."
                        + m.port().name());
                if (other != null) {
                    findings.add(Finding.error(Place.mapping(p.name(), m.port().name()), m.channel().id() + " is used by '" + other
                            + "' as well.", "Assign another channel."));
                }
            }
            last.put(p.seat().coreText(), p);
        }
        TargetPart.coreLoads(parts).forEach((core, load) -> {
            if (load > 1) {
                findings.add(Finding.warning(Place.rig(rig.name(), last.get(core).name()), "The load of " + core + " is "
                        + Fact.sig(load * 100) + " %.", "Choose a longer step, or divide the parts among the cores."));
            }
        });
    }

    private static String micros(double seconds) {
        return Fact.sig(seconds * 1e6) + " µs";
    }
}
