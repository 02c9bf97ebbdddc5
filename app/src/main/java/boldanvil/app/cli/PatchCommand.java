package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.estimate.LinkBudget;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.patch.AutoPatch;
import boldanvil.core.patch.BoardChange;
import boldanvil.core.patch.PatchCheck;
import boldanvil.core.patch.WiringTable;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.review.Review;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Shows and completes the patch of a part. */
@Command(name = "patch", mixinStandardHelpOptions = true,
        description = "Shows the peripheral and pin of each terminal and the figures that result; assigns terminals, changes "
        + "the board, sets clocks. Exit status 1: the patch has errors.")
final class PatchCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--part", description = "The part. Default: the only one with terminals.")
    private String part;

    @Option(names = "--auto", description = "Assign a peripheral and pin to every unassigned terminal, and save the patch.")
    private boolean auto;

    @Option(names = "--board", description = "Change to this board, list the differences, and save the patch.")
    private String board;

    @Option(names = "--clock", paramLabel = "DOMAIN=FREQUENCY", description =
            "Request a clock, such as core=84MHz or source=internal, and save the patch.")
    private Map<String, String> clock = new LinkedHashMap<>();

    @Option(names = "--csv", paramLabel = "FILE", description = "Write the wiring table as CSV.")
    private Path csv;

    @Option(names = "--pdf", paramLabel = "FILE", description = "Write the wiring table as PDF.")
    private Path pdf;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        Project read = ProjectReader.read(project);
        Review review = Review.of(read);
        Program program = program(read, review);
        Boards boards = Boards.of(read);
        Patch before = read.patches().getOrDefault(program.name(), new Patch(board == null ? boards.names().getFirst() : board, List.of()));
        Patch patch = before;
        List<Finding> findings = new ArrayList<>();
        List<BoardChange.Row> changes = List.of();
        if (board != null && !board.equals(patch.board())) {
            var change = BoardChange.plan(boards, program, patch, board);
            patch = change.patch();
            changes = change.rows();
        }
        if (!clock.isEmpty()) {
            var asked = new LinkedHashMap<>(patch.clock());
            asked.putAll(clock);
            patch = patch.withClock(asked);
        }
        var chosen = boards.require(Place.patch(program.name()), patch.board());
        refuseWrongClocks(new BoardSetup(chosen, patch, program));
        if (auto) {
            var done = AutoPatch.complete(chosen, program, patch);
            patch = done.patch();
            findings.addAll(done.findings());
        }
        PatchCheck.check(boards, program, patch, true).stream().filter(f -> findings.stream().noneMatch(x -> x.place().equals(f.place())))
                .forEach(findings::add);
        if (!patch.equals(before) || !read.patches().containsKey(program.name())) {
            ProjectWriter.write(read.withPatch(program.name(), patch), project);
        }
        var setup = new BoardSetup(chosen, patch, program);
        var table = WiringTable.of(setup);
        if (csv != null) {
            table.writeCsv(csv);
        }
        if (pdf != null) {
            Reports.pdf(table, pdf);
        }
        var rows = LoadEstimate.of(setup);
        LoadEstimate.lateness(rows, chosen).ifPresent(cause -> findings.add(Finding.warning(Place.patch(program.name()), cause,
                "Choose longer sample times, a faster board, or float32; it can still be run for a test.")));
        if (json.isJson()) {
            json(setup, findings, changes, rows);
        } else {
            text(spec.commandLine().getOut(), setup, changes, rows);
            CommandLineMain.print(spec.commandLine().getOut(), findings);
        }
        return findings.stream().anyMatch(Finding::isError) ? 1 : 0;
    }

    /** What was asked for on the command line is not saved when the board cannot do it. */
    private void refuseWrongClocks(BoardSetup setup) {
        boolean known = clock.keySet().stream().allMatch(d -> d.equals(Patch.SOURCE) || setup.board().clock().domain(d).isPresent());
        var wrong = setup.findings().stream().filter(f -> f.isError() || !known).map(f -> Finding.error(f.place(), f.cause(), f.cure()))
                .toList();
        if (!clock.isEmpty() && !wrong.isEmpty()) {
            throw new FindingException(wrong);
        }
    }

    private Program program(Project read, Review review) {
        List<String> with = review.system().parts().keySet().stream().filter(
                id -> review.system().program(id).map(p -> !p.terminals().isEmpty()).orElse(false)).toList();
        String wanted = part != null ? part : with.size() == 1 ? with.getFirst() : null;
        if (wanted == null || read.part(wanted).isEmpty()) {
            throw FindingException.of("--part", wanted == null ? "The project has " + with.size() + " parts with terminals."
                    : "There is no part '" + wanted + "'.",
                    with.isEmpty() ? "Add terminals to a controller." : "Name one of: " + String.join(", ", with) + ".");
        }
        return review.system().program(wanted).orElseThrow(() -> new FindingException(
                review.findings().stream().filter(Finding::isError).toList()));
    }

    private static void text(PrintWriter out, BoardSetup setup, List<BoardChange.Row> changes, List<LoadEstimate.Row> rows) {
        out.println(setup.program().title() + " on " + setup.board().title() + ", " + setup.clock().words());
        setup.clock().domains().forEach((name, d) -> out.printf(Locale.ROOT,
                "  clock %-12s asked %10.6f MHz, reached %10.6f MHz, %.0f ppm%n", name, d.asked() / 1e6, d.hertz() / 1e6, d.ppm()));
        for (Terminal t : setup.program().terminals()) {
            var row = setup.patch().row(t.name());
            out.printf("  %-16s %-20s %-10s %-14s %s%n", t.name(), t.kind().label(), row.map(Patch.Row::peripheral).orElse(""),
                    row.map(Patch.Row::pin).orElse(""),
                    row.map(Patch.Row::wire).orElse(""));
            out.println("      " + String.join("; ", Peripherals.figures(setup, t).stream().map(Object::toString).toList()));
        }
        for (LoadEstimate.Row r : rows) {
            out.printf(Locale.ROOT, "  task %-14s every %9.1f µs: run %9.1f µs, response %s, load %5.1f %%%n", r.name(),
                    r.periodSeconds() * 1e6, r.seconds() * 1e6,
                    Double.isInfinite(r.responseSeconds()) ? "never" : String.format(Locale.ROOT, "%9.1f µs", r.responseSeconds() * 1e6),
                    r.load() * 100);
        }
        for (LinkBudget.Row r : LinkBudget.of(setup)) {
            out.printf(Locale.ROOT, "  link %-14s %s: %.0f of %.0f bytes/s, %.1f %%%s%n", r.link(), r.what(), r.asked(), r.possible(),
                    100 * r.asked() / r.possible(), r.isEnough() ? "" : ", too slow");
        }
        changes.forEach(c -> out.println("  change " + c.terminal() + ": " + c.from() + " → " + (c.to().isEmpty() ? "not assigned" : c.to())
                + (c.values().isEmpty() ? "" : "; " + String.join("; ", c.values()))));
    }

    private void json(BoardSetup setup, List<Finding> findings, List<BoardChange.Row> changes, List<LoadEstimate.Row> rows) {
        Map<String, Object> result = new LinkedHashMap<>();
        result.put("part", setup.program().name());
        result.put("board", setup.board().name());
        Map<String, Object> clocks = new LinkedHashMap<>();
        setup.clock().domains().forEach((name, d) -> clocks.put(name, Map.of("asked", d.asked(), "reached", d.hertz(), "divider",
                d.divider())));
        result.put("clocks", clocks);
        List<Object> terminals = new ArrayList<>();
        for (Terminal t : setup.program().terminals()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("terminal", t.name());
            one.put("kind", t.kind().label());
            one.put("peripheral", setup.patch().row(t.name()).map(Patch.Row::peripheral).orElse(""));
            one.put("pins", setup.pins(t));
            one.put("numbers", Peripherals.figures(setup, t).stream().map(f ->
                    Map.of("name", f.name(), "value", f.value(), "unit", f.unit())).toList());
            terminals.add(one);
        }
        result.put("terminals", terminals);
        result.put("tasks", rows.stream().map(r -> Map.of("task", r.name(), "period", r.periodSeconds(), "run", r.seconds(), "response",
                Double.isInfinite(r.responseSeconds()) ? "never" : (Object) r.responseSeconds())).toList());
        result.put("links", LinkBudget.of(setup).stream().map(r -> Map.of("link", r.link(), "asked", r.asked(), "possible", r.possible()))
                .toList());
        result.put("changes", changes.stream().map(c -> Map.of("terminal", c.terminal(), "from", c.from(), "to", c.to(), "values",
                c.values())).toList());
        result.put("findings", findings.stream().map(Object::toString).toList());
        json.print(result);
    }
}
