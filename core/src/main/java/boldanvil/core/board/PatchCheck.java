package boldanvil.core.board;

import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
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
    private final String patchPlace;
    private final Map<String, Placement> placed = new LinkedHashMap<>();
    private final List<Trouble> troubles = new ArrayList<>();

    /** A change of the patch that mends a trouble. */
    public record Proposal(String words, Patch patch) {}

    /**
     * Something wrong.
     *
     * @param terminal where it is; empty when it concerns the whole patch
     * @param movable terminals of which moving one may help
     */
    public record Trouble(Finding finding, String terminal, List<String> movable) {
        public Trouble {
            movable = List.copyOf(movable);
        }
    }

    private PatchCheck(Board board, Program program, Patch patch, boolean required) {
        this.board = board;
        this.program = program;
        this.patch = patch;
        this.required = required;
        setup = new BoardSetup(board, patch, program);
        patchPlace = "patch · " + program.name();
    }

    /**
     * Checks one part.
     *
     * @param boards the project's boards
     * @param program the part's program
     * @param required whether every terminal needs a row, because some rig puts the part on a device
     */
    public static List<Finding> check(Boards boards, Program program, Patch patch, boolean required) {
        return troubles(boards, program, patch, required).stream().map(Trouble::finding).toList();
    }

    /** As {@link #check}, each with the terminal it concerns. */
    public static List<Trouble> troubles(Boards boards, Program program, Patch patch, boolean required) {
        var board = boards.find(patch.board());
        if (board.isEmpty()) {
            return List.of(new Trouble(Finding.error("patch · " + program.name(), "There is no board '" + patch.board() + "'.",
                    "Boards are: " + String.join(", ", boards.names()) + "."), "", List.of()));
        }
        var check = new PatchCheck(board.get(), program, patch, required);
        check.all();
        return check.troubles;
    }

    /**
     * Ways out of a trouble: for each terminal concerned, the nearest place without one. Each leaves fewer errors than there are.
     */
    public static List<Proposal> proposals(Boards boards, Program program, Patch patch, Trouble trouble) {
        var board = boards.find(patch.board());
        if (board.isEmpty() || trouble.movable().isEmpty()) {
            return List.of();
        }
        long before = errors(boards, program, patch);
        List<Proposal> found = new ArrayList<>();
        for (String name : trouble.movable()) {
            program.terminal(name).flatMap(t -> move(boards, board.get(), program, patch, t, before)).ifPresent(found::add);
        }
        if (found.isEmpty()) {
            // Nothing helps alone; let everything concerned find new places together.
            Patch loose = patch.withRows(patch.rows().stream().map(r -> trouble.movable().contains(r.terminal()) ? new Patch.Row(r.terminal(), "", "", r.wire()) : r).toList());
            var all = AutoPatch.complete(board.get(), program, loose).patch();
            if (errors(boards, program, all) < before) {
                found.add(new Proposal("Find new places for " + String.join(" and ", trouble.movable()), all));
            }
        }
        return found.subList(0, Math.min(PROPOSALS, found.size()));
    }

    private static Optional<Proposal> move(Boards boards, Board board, Program program, Patch patch, Terminal t, long before) {
        String wire = patch.row(t.name()).map(Patch.Row::wire).orElse("");
        // Channels next to the one there is come first, the harness changes least then; after that pins that can do nothing else.
        String now = patch.row(t.name()).map(Patch.Row::peripheral).orElse("");
        var channels = new ArrayList<>(board.channels(t.kind()));
        channels.sort(Comparator.comparingInt((Channel c) -> c.id().equals(now) ? 0 : now.startsWith(c.unit()) ? 1 : 2)
                .thenComparingInt(c -> board.functionsOf(c.pins().getFirst()).size()));
        for (Channel c : channels) {
            for (String way : c.pins()) {
                Patch next = patch.with(new Patch.Row(t.name(), c.id(), way, wire));
                if (!next.equals(patch) && errors(boards, program, next) < before) {
                    return Optional.of(new Proposal("Move '" + t.name() + "' to " + c.id() + (c.kind() == TerminalKind.DIGITAL_IN || c.kind() == TerminalKind.DIGITAL_OUT
                            || c.kind() == TerminalKind.EDGE_IN ? "" : ", pin " + way.replace(",", " and ")), next));
                }
            }
        }
        return Optional.empty();
    }

    private static long errors(Boards boards, Program program, Patch patch) {
        return troubles(boards, program, patch, true).stream().filter(t -> t.finding().isError()).count();
    }

    private void error(String terminal, String cause, String cure, String... movable) {
        troubles.add(new Trouble(Finding.error(patchPlace + (terminal.isEmpty() ? "" : "/" + terminal), cause, cure), terminal, List.of(movable)));
    }

    private void doubt(String terminal, String cause, String cure) {
        troubles.add(new Trouble(Finding.doubt(patchPlace + (terminal.isEmpty() ? "" : "/" + terminal), cause, cure), terminal, List.of()));
    }

    private void all() {
        setup.findings().forEach(f -> troubles.add(new Trouble(f, "", List.of())));
        if (required) {
            program.ports().stream().filter(p -> p.terminal() == null).map(Port::path).distinct().forEach(path -> troubles.add(new Trouble(
                    Finding.error(path, "The part runs on a device, but its port '" + path.substring(path.lastIndexOf('/') + 1) + "' is no terminal.",
                            "Replace the inlet or outlet by a terminal."), "", List.of())));
        }
        for (Terminal t : program.terminals()) {
            if (t.kind().hasPins()) {
                terminal(t);
            } else {
                within(t);
            }
        }
        for (Patch.Row row : patch.rows()) {
            if (program.terminal(row.terminal()).isEmpty()) {
                doubt(row.terminal(), "There is no such terminal on the sheet.", "Remove the row, or name the terminal so.");
            }
        }
        shared();
    }

    /** Terminals that need no pin. */
    private void within(Terminal t) {
        if (t.kind() == TerminalKind.WATCHDOG) {
            if (board.watchdog() == null) {
                error(t.name(), board.title() + " has no watchdog.", "Choose another board, or take the block off the sheet.");
            } else if (setup.watchdog(t).isEmpty()) {
                error(t.name(), "The watchdog cannot wait " + PatchNumbers.sig(t.number("timeout") * 1e3) + " ms.", "Choose a shorter timeout.");
            } else if (t.number("timeout") < 2 * program.tickSeconds()) {
                doubt(t.name(), "The watchdog bites before two steps have passed.", "Give it a few steps, or it bites at the first late one.");
            }
        }
    }

    private void terminal(Terminal t) {
        var row = patch.row(t.name());
        var all = board.channels(t.kind());
        if (all.isEmpty()) {
            error(t.name(), board.title() + " has no " + t.kind().label() + ".", "Choose another board, or take the terminal off the sheet.");
            return;
        }
        if (row.isEmpty() || !row.get().isPlaced()) {
            if (required) {
                error(t.name(), "The terminal has no peripheral and pin.", "Choose them on the patch sheet, or have them found.", t.name());
            }
            return;
        }
        var channel = board.channel(row.get().peripheral(), t.kind());
        if (channel.isEmpty()) {
            error(t.name(), "'" + row.get().peripheral() + "' is no " + t.kind().label() + " of " + board.title() + ".",
                    "Choose one of its " + t.kind().label() + " channels.", t.name());
            return;
        }
        if (!channel.get().pins().contains(row.get().pin())) {
            error(t.name(), row.get().peripheral() + " does not come out at pin " + row.get().pin() + ".",
                    "Choose " + String.join(" or ", channel.get().pins()) + ".", t.name());
        }
        var mine = Placement.of(t, channel.get(), row.get().pin());
        for (Placement p : placed.values()) {
            mine.clash(p, board).ifPresent(cause -> error(t.name(), cause, "Move one of the two" + (cause.startsWith("Timer ")
                    ? ", or give both the same setting." : "."), t.name(), p.terminal().name()));
        }
        placed.put(t.name(), mine);
        settings(t);
    }

    /** What a terminal's settings ask of its peripheral. */
    private void settings(Terminal t) {
        switch (t.kind()) {
            case PWM_OUT, PWM_PAIR_OUT, THREE_PHASE_OUT -> pwm(t);
            case ANALOG_IN -> analogIn(t);
            case CAPTURE_IN, DELAY_IN -> {
                if (setup.capture(t).isEmpty()) {
                    error(t.name(), "The timer cannot count as long as " + (t.kind() == TerminalKind.DELAY_IN ? PatchNumbers.sig(t.number("longest")) + " s"
                            : "a period of " + PatchNumbers.sig(t.number("slowest")) + " Hz") + ".", "Ask for less.");
                }
            }
            case PULSE_OUT -> {
                for (String end : List.of("least", "greatest")) {
                    if (setup.pulse(t, t.number(end)).period() == 0) {
                        error(t.name(), "The timer cannot make " + PatchNumbers.sig(t.number(end)) + " Hz.", "Narrow the range.");
                    }
                }
            }
            case ENCODER_IN, INDEXED_ENCODER_IN -> {
                if (t.number("filter") > 0 && setup.filter(t) < t.number("filter") * (1 - 1e-9)) {
                    doubt(t.name(), "The timer's longest filter is " + PatchNumbers.sig(setup.filter(t) * 1e9) + " ns.", "Ask for less, or filter outside.");
                }
            }
            case PACKET_OUT, PACKET_IN, I2C_IN, SPI_IN, FRAME_OUT, FRAME_IN -> line(t);
            case DIGITAL_IN, EDGE_IN -> {
                if (!t.has("pull", "none") && !board.digital().pulls().contains(t.texts().get("pull"))) {
                    error(t.name(), board.title() + " has no pull " + t.texts().get("pull") + ".", "Pulls are: " + String.join(", ", board.digital().pulls()) + ".");
                }
            }
            default -> { }
        }
    }

    /** Most a receiver bears of a serial line's rate being off, and still samples the right bits. */
    private static final double SERIAL_TOLERANCE = 0.02;

    private void line(Terminal t) {
        var rate = setup.rate(t);
        if (rate.isEmpty()) {
            error(t.name(), "The unit cannot make " + PatchNumbers.sig(t.number("rate")) + " Hz.", "Choose a rate it has.");
            return;
        }
        boolean serial = t.kind() == TerminalKind.PACKET_IN || t.kind() == TerminalKind.PACKET_OUT;
        if (serial && Math.abs(rate.get() / t.number("rate") - 1) > SERIAL_TOLERANCE) {
            error(t.name(), "The rate would be " + PatchNumbers.sig(rate.get()) + " Hz, off by more than " + PatchNumbers.sig(SERIAL_TOLERANCE * 100) + " %.",
                    "Choose a rate that divides the clock better.");
        }
        // Terminals on one bus take turns within a step.
        double busy = placed.values().stream().filter(p -> p.channel().unit().equals(setup.channel(t).orElseThrow().unit()) && p.terminal().kind().sharesUnit() == t.kind().sharesUnit()
                && (t.kind().sharesUnit() || p.terminal().name().equals(t.name()))).mapToDouble(p -> Lines.seconds(p.terminal(), rate.get())).sum();
        if (busy > program.tickSeconds()) {
            String cause = "Its line is busy for " + PatchNumbers.sig(busy * 1e6) + " µs of each step of " + PatchNumbers.sig(program.tickSeconds() * 1e6) + " µs";
            if (serial || t.kind() == TerminalKind.FRAME_IN || t.kind() == TerminalKind.FRAME_OUT) {
                doubt(t.name(), cause + "; not every step's values are carried.", "Choose a faster rate or fewer values, or accept that.");
            } else {
                error(t.name(), cause + ".", "Choose a faster rate, or read fewer registers.");
            }
        }
    }

    private void pwm(Terminal t) {
        double wanted = t.number("frequency");
        var timer = setup.pwm(t);
        if (timer.isEmpty()) {
            error(t.name(), "The timer cannot make " + PatchNumbers.sig(wanted) + " Hz.", "Choose a frequency the timer can reach.");
            return;
        }
        if (Math.abs(timer.get().hertz() - wanted) > 0.01 * wanted) {
            doubt(t.name(), "The timer makes " + PatchNumbers.sig(timer.get().hertz()) + " Hz instead of " + PatchNumbers.sig(wanted) + " Hz.",
                    "Choose a frequency that divides the clock better.");
        }
        if (t.kind() != TerminalKind.PWM_OUT && setup.deadTime(t).isEmpty()) {
            error(t.name(), "The timer cannot make a dead time of " + PatchNumbers.sig(t.number("dead time") * 1e6) + " µs.", "Choose a shorter one.");
        }
        double periods = program.tickSeconds() * timer.get().hertz();
        if (!t.has("synchronised", "no") && Math.abs(periods - Math.rint(periods)) > 1e-6) {
            error(t.name(), "The task cannot keep step with the PWM: a step is " + PatchNumbers.sig(periods) + " periods.",
                    "Choose a frequency that is a whole multiple of 1 / sample time.");
        }
    }

    private void analogIn(Terminal t) {
        var sampling = setup.sampling(t).orElseThrow();
        if (sampling.samplingSeconds() < t.number("sampling") * (1 - 1e-9)) {
            doubt(t.name(), "The converter samples for " + PatchNumbers.sig(sampling.samplingSeconds() * 1e6) + " µs at most.", "Buffer the sensor, or slow the converter's clock.");
        }
        double ready = setup.queueSeconds(t) + sampling.seconds();
        if (ready > program.tickSeconds()) {
            error(t.name(), "Its conversion ends " + PatchNumbers.sig(ready * 1e6) + " µs after the trigger, after the step of " + PatchNumbers.sig(program.tickSeconds() * 1e6)
                    + " µs.", "Sample for a shorter time, or move it to another converter.", t.name());
        }
        if (!t.has("trigger", "task")) {
            var triggers = setup.channel(t).flatMap(c -> board.converter(c.unit())).map(Board.Converter::triggers).orElse(List.of());
            boolean possible = placedTimers().stream().anyMatch(timer -> triggers.contains(timer + " " + t.texts().get("trigger")));
            if (!possible) {
                error(t.name(), "No PWM output stands on a timer that can trigger " + setup.channel(t).map(Channel::unit).orElse("it") + " at the " + t.texts().get("trigger") + ".",
                        "Trigger by the task, or put a PWM output on a timer of: " + (triggers.isEmpty() ? "none" : String.join(", ", triggers)) + ".");
            }
        }
    }

    private List<String> placedTimers() {
        return program.terminals().stream().filter(t -> t.numbers().containsKey("frequency") && !setup.pins(t).isEmpty()).flatMap(t -> setup.channel(t).stream())
                .map(Channel::unit).toList();
    }

    /** What all terminals together take. */
    private void shared() {
        long converters = placed.values().stream().filter(p -> p.terminal().kind() == TerminalKind.ANALOG_IN).map(p -> p.channel().unit()).distinct()
                .filter(u -> placed.values().stream().filter(p -> p.channel().unit().equals(u)).count() > 1).count();
        int streams = board.system().dmaStreams();
        if (streams > 0 && converters > streams) {
            error("", "Converters with several channels need " + converters + " DMA streams; " + board.title() + " has " + streams + ".", "Use fewer converters.");
        }
        long interrupts = program.tasks().size() + placed.values().stream().filter(p -> p.terminal().kind() == TerminalKind.EDGE_IN).count();
        if (interrupts > board.system().priorities()) {
            error("", "Tasks and pin interrupts need " + interrupts + " interrupt priorities; " + board.title() + " has " + board.system().priorities() + ".",
                    "Use fewer sample times or pin interrupts.");
        }
    }

    /** Whether some rig of the project puts a part on a device. */
    public static boolean onDevice(Project project, String part) {
        return project.rigs().stream().anyMatch(r -> r.place(part).mode() == Rig.Mode.DEVICE);
    }
}
