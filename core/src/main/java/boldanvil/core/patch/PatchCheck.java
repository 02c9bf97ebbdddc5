package boldanvil.core.patch;

import boldanvil.core.peripheral.PatchReport;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.board.Channel;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Finds conflicts between a part's terminals and the board it is patched to, and ways out of them. */
public final class PatchCheck {
    private static final int PROPOSALS = 3;

    private final Board board;
    private final Program program;
    private final Patch patch;
    private final boolean required;
    private final BoardSetup setup;
    private final Map<String, Placement> placed = new LinkedHashMap<>();
    private final List<Problem> problems = new ArrayList<>();

    /** A change of the patch that resolves a problem. */
    public record Proposal(String words, Patch patch) {}

    /**
     * Something wrong.
     *
     * @param terminal where it is; empty when it concerns the whole patch
     * @param movable terminals of which moving one may help
     */
    public record Problem(Finding finding, String terminal, List<String> movable) {
        public Problem {
            movable = List.copyOf(movable);
        }
    }

    private PatchCheck(Board board, Program program, Patch patch, boolean required) {
        this.board = board;
        this.program = program;
        this.patch = patch;
        this.required = required;
        setup = new BoardSetup(board, patch, program);
    }

    /**
     * Checks one part.
     *
     * @param boards the project's boards
     * @param program the part's program
     * @param required whether every terminal needs a row, because some rig puts the part on a device
     */
    public static List<Finding> check(Boards boards, Program program, Patch patch, boolean required) {
        return problems(boards, program, patch, required).stream().map(Problem::finding).toList();
    }

    /** As {@link #check}, each with the terminal it concerns. */
    public static List<Problem> problems(Boards boards, Program program, Patch patch, boolean required) {
        var board = boards.find(patch.board());
        if (board.isEmpty()) {
            return List.of(new Problem(Finding.error(Place.patch(program.name()), "There is no board '" + patch.board() + "'.",
                    "Boards are: " + String.join(", ", boards.names()) + "."), "", List.of()));
        }
        var check = new PatchCheck(board.get(), program, patch, required);
        check.all();
        return check.problems;
    }

    /**
     * Ways to resolve a problem: for each terminal concerned, the nearest place without one. Each leaves fewer errors than there are.
     */
    public static List<Proposal> proposals(Boards boards, Program program, Patch patch, Problem problem) {
        var board = boards.find(patch.board());
        if (board.isEmpty() || problem.movable().isEmpty()) {
            return List.of();
        }
        long before = errors(boards, program, patch);
        List<Proposal> found = new ArrayList<>();
        for (String name : problem.movable()) {
            program.terminal(name).flatMap(t -> move(boards, board.get(), program, patch, t, before)).ifPresent(found::add);
        }
        if (found.isEmpty()) {
            // Nothing helps alone; let everything concerned find new places together.
            Patch loose = patch.withRows(patch.rows().stream().map(r -> problem.movable().contains(r.terminal())
                    ? new Patch.Row(r.terminal(), "", "", r.wire()) : r).toList());
            var all = AutoPatch.complete(board.get(), program, loose).patch();
            if (errors(boards, program, all) < before) {
                found.add(new Proposal("Reassign " + String.join(" and ", problem.movable()), all));
            }
        }
        return found.subList(0, Math.min(PROPOSALS, found.size()));
    }

    private static Optional<Proposal> move(Boards boards, Board board, Program program, Patch patch, Terminal t, long before) {
        String wire = patch.row(t.name()).map(Patch.Row::wire).orElse("");
        // Channels next to the one there is come first, the harness changes least then; after that pins that can do nothing else.
        String now = patch.row(t.name()).map(Patch.Row::peripheral).orElse("");
        var channels = new ArrayList<>(Peripherals.channels(board, t.kind()));
        channels.sort(Comparator.comparingInt((Channel c) -> c.id().equals(now) ? 0 : now.startsWith(c.unit()) ? 1 : 2)
                .thenComparingInt(c -> board.functionsOf(c.pins().getFirst()).size()));
        for (Channel c : channels) {
            for (String way : c.pins()) {
                Patch next = patch.with(new Patch.Row(t.name(), c.id(), way, wire));
                if (!next.equals(patch) && errors(boards, program, next) < before) {
                    return Optional.of(new Proposal("Move '" + t.name() + "' to " + c.id() + (c.id().endsWith("." + way) ? ""
                            : ", pin " + way.replace(",", " and ")), next));
                }
            }
        }
        return Optional.empty();
    }

    private static long errors(Boards boards, Program program, Patch patch) {
        return problems(boards, program, patch, true).stream().filter(t -> t.finding().isError()).count();
    }

    private void error(String terminal, String cause, String cure, String... movable) {
        problems.add(new Problem(Finding.error(Place.patch(program.name(), terminal), cause, cure), terminal, List.of(movable)));
    }

    private void warning(String terminal, String cause, String cure) {
        problems.add(new Problem(Finding.warning(Place.patch(program.name(), terminal), cause, cure), terminal, List.of()));
    }

    private void all() {
        setup.findings().forEach(f -> problems.add(new Problem(f, "", List.of())));
        if (required) {
            program.ports().stream().filter(p -> p.terminal() == null).map(Port::path).distinct().forEach(path -> problems.add(new Problem(
                    Finding.error(Place.sheet(path), "The part runs on a device, but its port '"
                    + path.substring(path.lastIndexOf('/') + 1) + "' is not a terminal.",
                            "Replace the inlet or outlet by a terminal."), "", List.of())));
        }
        for (Terminal t : program.terminals()) {
            if (Peripherals.of(t).hasPins()) {
                terminal(t);
            } else {
                Peripherals.of(t).check(new Report(t), t);
            }
        }
        for (Patch.Row row : patch.rows()) {
            if (program.terminal(row.terminal()).isEmpty()) {
                warning(row.terminal(), "There is no such terminal on the sheet.", "Remove the row, or rename the terminal.");
            }
        }
        shared();
    }

    private void terminal(Terminal t) {
        var row = patch.row(t.name());
        var all = Peripherals.channels(board, t.kind());
        if (all.isEmpty()) {
            error(t.name(), board.title() + " has no " + t.kind().label() + ".",
                    "Choose another board, or remove the terminal from the sheet.");
            return;
        }
        if (row.isEmpty() || !row.get().isPlaced()) {
            if (required) {
                error(t.name(), "The terminal has no peripheral and pin.",
                        "Choose them on the patch sheet, or press 'Assign automatically'.", t.name());
            }
            return;
        }
        var channel = Peripherals.channel(board, row.get().peripheral(), t.kind());
        if (channel.isEmpty()) {
            error(t.name(), "'" + row.get().peripheral() + "' of " + board.title() + " cannot be used as " + t.kind().label() + ".",
                    "Choose one of its " + t.kind().label() + " channels.", t.name());
            return;
        }
        if (!channel.get().pins().contains(row.get().pin())) {
            error(t.name(), row.get().peripheral() + " is not available at pin " + row.get().pin() + ".",
                    "Choose " + String.join(" or ", channel.get().pins()) + ".", t.name());
        }
        var mine = Placement.of(t, channel.get(), row.get().pin());
        for (Placement p : placed.values()) {
            mine.clash(p, board).ifPresent(cause -> error(t.name(), cause, "Move one of the two" + (mine.differsOnTimer(p)
                    ? ", or use the same setting for both." : "."), t.name(), p.terminal().name()));
        }
        placed.put(t.name(), mine);
        Peripherals.of(t).check(new Report(t), t);
    }

    /** Takes what a peripheral reports of one terminal. */
    private final class Report implements PatchReport {
        private final String terminal;

        Report(Terminal t) {
            terminal = t.name();
        }

        @Override
        public BoardSetup setup() {
            return setup;
        }

        @Override
        public List<Terminal> placed() {
            return placed.values().stream().map(Placement::terminal).toList();
        }

        @Override
        public void error(String cause, String cure) {
            PatchCheck.this.error(terminal, cause, cure);
        }

        @Override
        public void errorOfPlace(String cause, String cure) {
            PatchCheck.this.error(terminal, cause, cure, terminal);
        }

        @Override
        public void warning(String cause, String cure) {
            PatchCheck.this.warning(terminal, cause, cure);
        }
    }

    /** What all terminals together take. */
    private void shared() {
        long converters = placed.values().stream().filter(p -> p.terminal().kind().equals(TerminalKind.ANALOG_IN))
                .map(p -> p.channel().unit()).distinct()
                .filter(u -> placed.values().stream().filter(p -> p.channel().unit().equals(u)).count() > 1).count();
        int streams = board.system().dmaStreams();
        if (streams > 0 && converters > streams) {
            error("", "Converters with several channels need " + converters + " DMA streams; " + board.title() + " has " + streams + ".",
                    "Use fewer converters.");
        }
        long interrupts = program.tasks().size() + placed.values().stream().filter(p -> p.terminal().kind().equals(TerminalKind.EDGE_IN))
                .count();
        if (interrupts > board.system().priorities()) {
            error("", "Tasks and pin interrupts need " + interrupts + " interrupt priorities; " + board.title() + " has " + board.system()
                    .priorities() + ".",
                    "Use fewer sample times or pin interrupts.");
        }
    }

    /** Whether some rig of the project puts a part on a device. */
    public static boolean onDevice(Project project, String part) {
        return project.rigs().stream().anyMatch(r -> r.place(part).mode() == Rig.Mode.DEVICE);
    }
}
