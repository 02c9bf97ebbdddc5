package boldanvil.core.patch;

import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * Finds a peripheral and pins for every terminal that has none. What is placed and fits stays where it is. The search takes the terminal
 * with the fewest ways first, tries its ways in turn and goes back where one leads nowhere; it gives up after a fixed number of tries and
 * then keeps the best it found.
 */
public final class AutoPatch {
    private static final int TRIES = 50_000;

    private final Board board;
    private final List<Placement> placed = new ArrayList<>();
    private final List<Terminal> open = new ArrayList<>();
    private List<Placement> best = List.of();
    private int tries;

    /**
     * What came out.
     *
     * @param patch with every row that could be found
     * @param findings for each terminal that has no place, why
     */
    public record Result(Patch patch, List<Finding> findings) {
        public Result {
            findings = List.copyOf(findings);
        }
    }

    private AutoPatch(Board board) {
        this.board = board;
    }

    /** Completes a patch. */
    public static Result complete(Board board, Program program, Patch patch) {
        return new AutoPatch(board).run(program, patch);
    }

    private Result run(Program program, Patch patch) {
        var terminals = program.terminals().stream().filter(t -> Peripherals.of(t).hasPins()).toList();
        for (Terminal t : terminals) {
            var kept = patch.row(t.name()).flatMap(r -> Peripherals.channel(board, r.peripheral(), t.kind())
                    .filter(c -> c.pins().contains(r.pin()))
                    .map(c -> Placement.of(t, c, r.pin())));
            if (kept.isPresent() && placed.stream().allMatch(p -> kept.get().clash(p, board).isEmpty())) {
                placed.add(kept.get());
            } else {
                open.add(t);
            }
        }
        int fixed = placed.size();
        best = List.copyOf(placed);
        open.sort(Comparator.comparingInt(t -> ways(t)));
        search(0);
        Patch next = patch;
        for (Placement p : best.subList(fixed, best.size())) {
            String wire = patch.row(p.terminal().name()).map(Patch.Row::wire).orElse("");
            next = next.with(new Patch.Row(p.terminal().name(), p.channel().id(), String.join(",", p.pins()), wire));
        }
        List<Finding> findings = new ArrayList<>();
        Set<String> done = new HashSet<>();
        best.forEach(p -> done.add(p.terminal().name()));
        for (Terminal t : terminals) {
            if (!done.contains(t.name())) {
                String wire = patch.row(t.name()).map(Patch.Row::wire).orElse("");
                next = next.with(new Patch.Row(t.name(), "", "", wire));
                findings.add(why(program, t));
            }
        }
        return new Result(inOrder(next, terminals), findings);
    }

    /** Rows in the order of the terminals; rows without terminal last. */
    private static Patch inOrder(Patch patch, List<Terminal> terminals) {
        List<String> names = terminals.stream().map(Terminal::name).toList();
        List<Patch.Row> rows = new ArrayList<>(patch.rows());
        rows.sort(Comparator.comparingInt(r -> names.contains(r.terminal()) ? names.indexOf(r.terminal()) : names.size()));
        return patch.withRows(rows);
    }

    private int ways(Terminal t) {
        return Peripherals.channels(board, t.kind()).stream().mapToInt(c -> c.pins().size()).sum();
    }

    /** Tries every way of the terminals from {@code at} on, and leaving one out, unless no more could be placed than has been. */
    private void search(int at) {
        if (placed.size() > best.size()) {
            best = List.copyOf(placed);
        }
        if (at == open.size() || placed.size() + open.size() - at <= best.size()) {
            return;
        }
        for (Placement candidate : candidates(open.get(at))) {
            if (++tries > TRIES) {
                return;
            }
            if (placed.stream().allMatch(p -> candidate.clash(p, board).isEmpty())) {
                placed.add(candidate);
                search(at + 1);
                placed.removeLast();
            }
        }
        search(at + 1);
    }

    /** The ways of a terminal, most fitting first. */
    private List<Placement> candidates(Terminal t) {
        List<Placement> all = new ArrayList<>();
        for (Channel c : Peripherals.channels(board, t.kind())) {
            c.pins().forEach(way -> all.add(Placement.of(t, c, way)));
        }
        all.sort(Comparator.comparingInt(p -> {
            int same = (int) placed.stream().filter(o -> o.channel().unit().equals(p.channel().unit())).count();
            return Peripherals.of(t).rank(board, p.pins().getFirst(), same);
        }));
        return all;
    }

    private Finding why(Program program, Terminal t) {
        Place place = Place.patch(program.name(), t.name());
        var channels = Peripherals.channels(board, t.kind());
        if (channels.isEmpty()) {
            return Finding.error(place, board.title() + " has no " + t.kind().label() + ".",
                    "Choose another board, or remove the terminal from the sheet.");
        }
        Set<String> reasons = new java.util.LinkedHashSet<>();
        for (Placement candidate : candidates(t)) {
            for (Placement p : best) {
                candidate.clash(p, board).ifPresent(reasons::add);
            }
        }
        return Finding.error(place, "None of the " + channels.size() + " " + t.kind()
                .label() + " channels of " + board.title() + " is free: "
                + String.join(" ", reasons.stream().limit(3).toList()), Peripherals.of(t).isPwm()
                ? "Give PWM outputs the same frequency, phase and alignment, or free a channel."
                : "Free one of them, or choose another board.");
    }
}
