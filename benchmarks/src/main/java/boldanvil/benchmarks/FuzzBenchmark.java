package boldanvil.benchmarks;

import boldanvil.core.bench.ValueFiles;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Review;
import boldanvil.core.c.CGenerator;
import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.diagram.BenchLayout.Effect;
import boldanvil.core.diagram.Project;
import boldanvil.core.drawing.LiveDrawing;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.frame.Dbc;
import boldanvil.core.frame.FrameException;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import boldanvil.core.runs.Column;
import boldanvil.core.runs.RunCsv;
import boldanvil.core.runs.RunExport;
import boldanvil.core.runs.RunImport;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.runs.SampleStore;
import boldanvil.core.runs.Samples;
import boldanvil.core.testing.PartBuilder;
import com.github.weisj.jsvg.parser.LoaderContext;
import com.github.weisj.jsvg.parser.SVGLoader;
import com.github.weisj.jsvg.view.ViewBox;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.logging.LogManager;

/**
 * Damaged inputs for every reader: how many were refused with a finding, whether one led to any other exception or to an overflow, how long the
 * slowest took, and whether anything outside the folder that was read has changed. Parameters: the number of inputs, and a seed.
 */
public final class FuzzBenchmark {
    private static final int WORKERS = 2;
    private static final long SLOW_NANOS = 2_000_000_000L;
    private static final Map<String, Quantity> NO_VARIABLES = Map.of();
    private static final List<String> TEXTS = List.of("VAR_INPUT u : REAL; END_VAR VAR_OUTPUT y : REAL; END_VAR VAR n : INT; a : ARRAY[0..3] OF REAL; t : TON; END_VAR\n"
            + "FOR n := 0 TO 3 DO a[n] := u * 2.0 + INT_TO_REAL(n); END_FOR; t(IN := u > 0.0, PT := T#100ms); IF t.Q THEN y := LIMIT(0.0, a[1], 5.0); ELSE y := -1.0; END_IF;",
            "FUNCTION f : LREAL VAR_INPUT x : LREAL; END_VAR f := x * x + SIN(x); END_FUNCTION VAR_INPUT u : LREAL; END_VAR VAR_OUTPUT y : LREAL; END_VAR "
                    + "CASE LREAL_TO_INT(u) OF 0: y := f(u); 1, 2..5: y := f(f(u)); ELSE WHILE y < 10.0 DO y := y + 1.0; END_WHILE; END_CASE;");
    private static final List<String> FORMULAS = List.of("2 * pi * 50 Hz", "sqrt(kp) / (1 + ki * 3 ms)", "[1 V, 2 V, 3 V] ", "[[1, 2], [3, 4]]", "max(2 m, 30 cm) / 4 s", "20 °C", "-3 dB", "0.05 V/(rad/s)", "inf");
    private static final List<String> FRAMES = List.of("BO_ 291 drive: 8 node\n SG_ speed : 0|16@1+ (0.1,0) [0|100] \"rpm\" Anybody\n SG_ state : 16|8@1- (1,0) [0|10] \"\" Anybody\n");
    private static final List<String> PACKETS = List.of("level: float32, state: uint8\nlittle endian\naa 55\nCRC-16", "a: bool, b: int16, c\nbig endian\n01\nnone");
    private static final String SVG = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 200 100\"><defs><linearGradient id=\"g\"><stop offset=\"0\" stop-color=\"#fff\"/></linearGradient></defs>"
            + "<g id=\"a\" transform=\"rotate(10 5 5)\"><rect x=\"1\" y=\"2\" width=\"30\" height=\"40\" fill=\"url(#g)\" stroke=\"#123456\" stroke-dasharray=\"4 2\"/></g>"
            + "<path id=\"b\" d=\"M 1 2 L 30 40 C 1 2 3 4 5 6 Z\" stroke-width=\"3\"/><text id=\"c\" x=\"5\" y=\"9\" font-size=\"8\">%.1f m</text><use href=\"#a\"/></svg>";

    /** What opens one kind of input. */
    private interface Door {
        void open(byte[] input, Path folder) throws IOException;
    }

    private record Kind(String name, int weight, List<byte[]> seeds, Door door) {}

    private final Map<String, int[]> refused = new TreeMap<>();
    private final Map<String, Long> slowest = new TreeMap<>();
    private final AtomicInteger failures = new AtomicInteger();
    private final AtomicInteger slow = new AtomicInteger();
    private final AtomicLong[] since = {new AtomicLong(), new AtomicLong()};
    private final String[] doing = new String[WORKERS];

    private FuzzBenchmark() {}

    public static void main(String[] args) throws IOException, InterruptedException {
        System.setProperty("java.awt.headless", "true");
        LogManager.getLogManager().reset();
        int inputs = args.length > 0 ? Integer.parseInt(args[0]) : 100_000;
        long seed = args.length > 1 ? Long.parseLong(args[1]) : 1;
        Path folder = Files.createTempDirectory("fuzz");
        try {
            new FuzzBenchmark().run(folder, inputs, seed);
        } finally {
            Folders.delete(folder);
        }
        System.exit(0);
    }

    private void run(Path folder, int inputs, long seed) throws IOException, InterruptedException {
        Path outside = Files.createDirectory(folder.resolve("outside"));
        Files.writeString(outside.resolve("kept.json"), "{\"kept\": true}");
        String before = listing(folder);
        List<Thread> workers = new ArrayList<>();
        for (int w = 0; w < WORKERS; w++) {
            int number = w;
            Path own = Files.createDirectory(folder.resolve("worker" + w));
            workers.add(Thread.ofPlatform().start(() -> work(number, own, inputs / WORKERS, seed * WORKERS + number)));
        }
        long[] reported = new long[WORKERS];
        while (workers.stream().anyMatch(Thread::isAlive)) {
            Thread.sleep(200);
            for (int w = 0; w < WORKERS; w++) {
                long from = since[w].get();
                if (from != 0 && from != reported[w] && System.nanoTime() - from > SLOW_NANOS) {
                    reported[w] = from;
                    System.out.println("SLOW: " + doing[w]);
                    for (var frame : workers.get(w).getStackTrace()) {
                        System.out.println("    " + frame);
                    }
                }
                if (from != 0 && System.nanoTime() - from > 20 * SLOW_NANOS) {
                    System.out.println("It hangs.");
                    System.exit(1);
                }
            }
        }
        refused.forEach((name, n) -> System.out.printf(Locale.ROOT, "%-10s %7d inputs, %7d refused, slowest %7.1f ms%n", name, n[0], n[1], slowest.get(name) / 1e6));
        for (int w = 0; w < WORKERS; w++) {
            Folders.delete(folder.resolve("worker" + w));
        }
        System.out.println(failures.get() + " failures, " + slow.get() + " longer than 2 s; outside " + (listing(folder).equals(before) ? "nothing changed" : "SOMETHING CHANGED: " + listing(folder)));
    }

    private static String listing(Path folder) throws IOException {
        try (var files = Files.walk(folder)) {
            var text = new StringBuilder();
            for (Path f : files.filter(f -> !folder.relativize(f).toString().startsWith("worker")).sorted().toList()) {
                text.append(f).append(Files.isDirectory(f) ? "" : Files.readString(f)).append('\n');
            }
            return text.toString();
        }
    }

    private void work(int worker, Path folder, int inputs, long seed) {
        try {
            var mutator = new Mutator(seed);
            List<Kind> kinds = kinds(folder);
            int total = kinds.stream().mapToInt(Kind::weight).sum();
            for (Kind k : kinds) {
                int n = inputs * k.weight() / total;
                for (int i = 0; i < n; i++) {
                    one(worker, k, mutator.damaged(k.seeds()), folder);
                }
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private void one(int worker, Kind kind, byte[] input, Path folder) {
        doing[worker] = kind.name() + ": " + shown(input);
        long begin = System.nanoTime();
        since[worker].set(begin);
        boolean wasRefused = false;
        try {
            kind.door().open(input, folder);
        } catch (FindingException | FormulaException | FrameException e) {
            wasRefused = true;
        } catch (Exception | StackOverflowError | OutOfMemoryError e) {
            fail(kind, input, e);
        }
        since[worker].set(0);
        long took = System.nanoTime() - begin;
        slow.addAndGet(took > SLOW_NANOS ? 1 : 0);
        synchronized (this) {
            int[] n = refused.computeIfAbsent(kind.name(), _ -> new int[2]);
            n[0]++;
            n[1] += wasRefused ? 1 : 0;
            slowest.merge(kind.name(), took, Math::max);
        }
    }

    private void fail(Kind kind, byte[] input, Throwable e) {
        if (failures.incrementAndGet() <= 60) {
            StackTraceElement[] trace = e.getStackTrace();
            var where = new StringBuilder();
            for (int i = 0, shown = 0; i < trace.length && shown < 4; i++) {
                if (i == 0 || trace[i].getClassName().startsWith("boldanvil.core") || trace[i].getClassName().contains("jsvg")) {
                    where.append("\n    ").append(trace[i]);
                    shown++;
                }
            }
            System.out.println("FAILS: " + kind.name() + ": " + String.valueOf(e).lines().findFirst().orElse("") + where + "\n    input " + shown(input));
        }
    }

    private static String shown(byte[] input) {
        String text = new String(input, 0, Math.min(input.length, 400), StandardCharsets.UTF_8).replaceAll("\\p{Cntrl}", ".");
        return text + (input.length > 400 ? "… (" + input.length + " bytes)" : "");
    }

    private static List<byte[]> bytes(List<String> texts) {
        return texts.stream().map(t -> t.getBytes(StandardCharsets.UTF_8)).toList();
    }

    private static String text(byte[] b) {
        return new String(b, StandardCharsets.UTF_8);
    }

    private static List<Kind> kinds(Path folder) throws IOException {
        List<Kind> kinds = new ArrayList<>();
        kinds.addAll(projects(folder));
        kinds.add(new Kind("board", 8, boards(), (b, _) -> Boards.of(Project.empty("p").withBoards(Map.of("x", text(b)))).findings()));
        kinds.add(new Kind("text", 20, bytes(TEXTS), (b, _) -> check(Project.empty("p").withParts(List.of(new PartBuilder("p").block("f", "st", "text=" + text(b)).part())))));
        kinds.add(new Kind("formula", 20, bytes(FORMULAS), (b, _) -> {
            Units.find(text(b));
            Formula.quantities(text(b), NO_VARIABLES);
        }));
        kinds.add(new Kind("frames", 6, bytes(FRAMES), (b, _) -> Dbc.read(text(b))));
        kinds.add(new Kind("packet", 6, bytes(PACKETS), (b, _) -> {
            String[] four = (text(b) + "\n\n\n\n").split("\n", -1);
            PacketLayout.of(four[0], four[1], four[2], four[3]);
        }));
        kinds.add(new Kind("drawing", 6, bytes(List.of(SVG)), FuzzBenchmark::drawing));
        kinds.addAll(runs(folder));
        kinds.add(new Kind("values", 4, bytes(List.of("{\"name\": \"a\", \"values\": {\"controller.kp\": 2, \"controller.ki\": 0.5}}", "tunable,value\ncontroller.kp,2\n")), (b, f) -> {
            for (String ending : List.of(".json", ".csv")) {
                Path file = f.resolve("values" + ending);
                Files.write(file, b);
                ValueFiles.read(file);
            }
        }));
        return kinds;
    }

    private static List<byte[]> boards() {
        List<byte[]> all = new ArrayList<>();
        for (String name : Boards.shipped().names()) {
            try (var in = Boards.class.getResourceAsStream("/boldanvil/core/board/" + name + ".json")) {
                all.add(in.readAllBytes());
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
        }
        return all;
    }

    /** Each file of each demo project, damaged in its place. */
    private static List<Kind> projects(Path folder) throws IOException {
        List<Kind> kinds = new ArrayList<>();
        for (String name : List.of("beacon", "gate-drive", "paddle-modes", "larkmere-lock")) {
            Map<String, String> files = new LinkedHashMap<>();
            Path home = Path.of(System.getProperty("boldanvil.demos", "demo"), name);
            Project whole = ProjectReader.read(home);
            ProjectWriter.files(whole).forEach(files::put);
            Path copy = folder.resolve(name);
            ProjectWriter.write(whole, copy);
            for (var file : files.entrySet()) {
                kinds.add(new Kind("project", 1, bytes(List.of(file.getValue())), (b, f) -> {
                    Path damaged = f.resolve(name).resolve(file.getKey());
                    Files.write(damaged, b);
                    try {
                        check(ProjectReader.read(f.resolve(name)));
                    } finally {
                        Files.writeString(damaged, file.getValue());
                    }
                }));
            }
        }
        return kinds;
    }

    /** All that is done with a project before anything runs, and, where it has no errors, its code. */
    private static void check(Project project) {
        Review review = Review.of(project);
        if (!review.hasErrors()) {
            review.system().parts().keySet().forEach(p -> review.system().program(p).ifPresent(CGenerator::generate));
        }
        ProjectWriter.files(project);
    }

    private static void drawing(byte[] b, Path folder) throws IOException {
        Files.write(folder.resolve("a.svg"), b);
        String svg = LiveDrawing.read(folder, new Drawing("d", "a.svg", List.of(new Binding("a", Effect.TURN, "x", 0, 1, "0", "90"), new Binding("b", Effect.MOVE_X, "x", 0, 1, "0", "5"),
                new Binding("c", Effect.TEXT, "x", 0, 1, "%.1f m", "")))).at(_ -> 0.5);
        var document = new SVGLoader().load(new ByteArrayInputStream(svg.getBytes(StandardCharsets.UTF_8)), null, LoaderContext.createDefault());
        if (document != null) {
            var image = new BufferedImage(200, 150, BufferedImage.TYPE_INT_ARGB_PRE);
            var g = image.createGraphics();
            document.render((java.awt.Component) null, g, new ViewBox(0, 0, 200, 150));
            g.dispose();
        }
    }

    private static List<Kind> runs(Path folder) throws IOException {
        var store = new SampleStore(List.of(new Column("drive.speed", "rpm"), new Column("drive.current", "A")));
        for (int i = 0; i < 200; i++) {
            store.add(0, i * 1e-3, Math.sin(i));
            store.add(1, i * 1e-3, i);
        }
        List<byte[]> csv = new ArrayList<>(bytes(List.of("time;a;b\n0;1,5;2\n1;2,5;3\n", "# note\nt [s]\tx [mm]\n0\t1\n0.1\t2\n")));
        Path file = folder.resolve("seed.csv");
        RunExport.write(store, file);
        csv.add(Files.readAllBytes(file));
        Path hdf = folder.resolve("seed.h5");
        RunExport.write(store, hdf);
        var shelf = new RunShelf(folder.resolve("shelf"));
        var entry = shelf.save(RunNote.beginning("desk", "2026-01-01T00:00:00Z", 1e-3, Map.of(), Map.of()), store, Map.of());
        Path note = entry.folder().resolve("run.json");
        return List.of(
                new Kind("run csv", 8, csv.subList(2, 3), (b, f) -> RunCsv.read(Files.write(f.resolve("run.csv"), b))),
                new Kind("any csv", 8, csv, (b, f) -> imported(Files.write(f.resolve("any.csv"), b))),
                new Kind("run hdf5", 4, List.of(Files.readAllBytes(hdf)), (b, f) -> looked(RunImport.open(Files.write(f.resolve("run.h5"), b)))),
                new Kind("any hdf5", 4, List.of(Files.readAllBytes(hdf)), (b, f) -> imported(Files.write(f.resolve("any.h5"), b))),
                new Kind("shelf", 4, List.of(Files.readAllBytes(note)), (b, f) -> {
                    Files.write(f.resolve("shelf").resolve(entry.folder().getFileName()).resolve("run.json"), b);
                    new RunShelf(f.resolve("shelf")).list(new ArrayList<>());
                }));
    }

    private static void imported(Path run) {
        var contents = RunImport.look(run);
        var mappings = contents.columns().stream().filter(c -> contents.time() < 0 || !c.equals(contents.columns().get(contents.time())))
                .map(c -> new RunImport.Mapping(c, "imported." + c, Column.ofHeading(c).unit(), 1)).toList();
        looked(RunImport.read(run, new RunImport.Plan(contents.time() < 0 ? "" : contents.columns().get(contents.time()), 1, 1e-3, mappings)));
    }

    private static void looked(Samples samples) {
        for (int i = 0; i < samples.columns().size(); i++) {
            samples.series(i, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY);
        }
    }
}
