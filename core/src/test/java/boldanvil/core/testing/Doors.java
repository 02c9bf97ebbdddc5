package boldanvil.core.testing;

import boldanvil.core.bench.ValueFiles;
import boldanvil.core.board.Boards;
import boldanvil.core.c.CGenerator;
import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.diagram.BenchLayout.Effect;
import boldanvil.core.diagram.Project;
import boldanvil.core.drawing.LiveDrawing;
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
import boldanvil.core.review.Review;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunCsv;
import boldanvil.core.transfer.RunExport;
import boldanvil.core.transfer.RunImport;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Every way by which a file or a text from outside comes in, with whole inputs to start from. */
public final class Doors {
    /** What opens one kind of input. */
    public interface Opening {
        void open(byte[] input, Path folder) throws IOException;
    }

    /**
     * A way in.
     *
     * @param weight its share of the inputs
     * @param seeds whole inputs
     */
    public record Door(String name, int weight, List<byte[]> seeds, Opening opening) {
        /**
         * Opens it.
         *
         * @return whether the input was refused in words
         */
        public boolean refuses(byte[] input, Path folder) throws IOException {
            try {
                opening.open(input, folder);
                return false;
            } catch (FindingException | FormulaException | FrameException e) {
                return true;
            }
        }
    }

    private static final Map<String, Quantity> NO_VARIABLES = Map.of();
    private static final List<String> TEXTS =
            List.of("VAR_INPUT u : REAL; END_VAR VAR_OUTPUT y : REAL; END_VAR VAR n : INT; a : ARRAY[0..3] OF REAL; t : TON; END_VAR\n"
            + "FOR n := 0 TO 3 DO a[n] := u * 2.0 + INT_TO_REAL(n); END_FOR; t(IN := u > 0.0, PT := T#100ms); IF t.Q THEN y := LIMIT(0.0, "
            + "a[1], 5.0); ELSE y := -1.0; END_IF;",
            "FUNCTION f : LREAL VAR_INPUT x : LREAL; END_VAR f := x * x + SIN(x); END_FUNCTION VAR_INPUT u : LREAL; END_VAR VAR_OUTPUT y "
            + ": LREAL; END_VAR "
                    + "CASE LREAL_TO_INT(u) OF 0: y := f(u); 1, 2..5: y := f(f(u)); ELSE WHILE y < 10.0 DO y := y + 1.0; END_WHILE; "
                    + "END_CASE;");
    private static final List<String> FORMULAS = List.of("2 * pi * 50 Hz", "sqrt(kp) / (1 + ki * 3 ms)", "[1 V, 2 V, 3 V] ",
            "[[1, 2], [3, 4]]", "max(2 m, 30 cm) / 4 s", "20 °C", "-3 dB", "0.05 V/(rad/s)", "inf");
    private static final List<String> FRAMES =
            List.of("BO_ 291 drive: 8 node\n SG_ speed : 0|16@1+ (0.1,0) [0|100] \"rpm\" Anybody\n SG_ state : 16|8@1- (1,0) [0|10] \"\" "
            + "Anybody\n");
    private static final List<String> PACKETS = List.of("level: float32, state: uint8\nlittle endian\naa 55\nCRC-16",
            "a: bool, b: int16, c\nbig endian\n01\nnone");
    private static final String SVG =
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 200 100\"><defs><linearGradient id=\"g\"><stop offset=\"0\" "
            + "stop-color=\"#fff\"/></linearGradient></defs>"
            + "<g id=\"a\" transform=\"rotate(10 5 5)\"><rect x=\"1\" y=\"2\" width=\"30\" height=\"40\" fill=\"url(#g)\" "
            + "stroke=\"#123456\" stroke-dasharray=\"4 2\"/></g>"
            + "<path id=\"b\" d=\"M 1 2 L 30 40 C 1 2 3 4 5 6 Z\" stroke-width=\"3\"/><text id=\"c\" x=\"5\" y=\"9\" font-size=\"8\">%.1f "
            + "m</text><use href=\"#a\"/></svg>";

    private Doors() {}

    private static List<byte[]> bytes(List<String> texts) {
        return texts.stream().map(t -> t.getBytes(StandardCharsets.UTF_8)).toList();
    }

    private static String text(byte[] b) {
        return new String(b, StandardCharsets.UTF_8);
    }

    /**
     * All of them.
     *
     * @param folder where what a door needs lies; each thread needs its own
     * @param demos folder of the demo projects
     */
    public static List<Door> all(Path folder, Path demos) throws IOException {
        List<Door> doors = new ArrayList<>();
        doors.addAll(projects(folder, demos));
        doors.add(new Door("board", 8, boards(), (b, _) -> Boards.of(Project.empty("p").withBoards(Map.of("x", text(b)))).findings()));
        doors.add(new Door("text", 20, bytes(TEXTS), (b, _) -> check(Project.empty("p")
                .withParts(List.of(new PartBuilder("p").block("f", "st", "text=" + text(b)).part())))));
        doors.add(new Door("formula", 20, bytes(FORMULAS), (b, _) -> {
            Units.find(text(b));
            Formula.quantities(text(b), NO_VARIABLES);
        }));
        doors.add(new Door("frames", 6, bytes(FRAMES), (b, _) -> Dbc.read(text(b))));
        doors.add(new Door("packet", 6, bytes(PACKETS), (b, _) -> {
            String[] four = (text(b) + "\n\n\n\n").split("\n", -1);
            PacketLayout.of(four[0], four[1], four[2], four[3]);
        }));
        doors.add(new Door("drawing", 6, bytes(List.of(SVG)), Doors::drawing));
        doors.addAll(runs(folder));
        doors.add(new Door("values", 4,
                bytes(List.of("{\"format\": 1, \"name\": \"a\", \"values\": {\"controller.kp\": 2, \"controller.ki\": 0.5}}",
                "tunable,value\ncontroller.kp,2\n")), (b, f) -> {
            Path file = f.resolve(b.length > 0 && b[0] == '{' ? "values.json" : "values.csv");
            ValueFiles.read(Files.write(file, b));
        }));
        return doors;
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
    private static List<Door> projects(Path folder, Path demos) throws IOException {
        List<Door> doors = new ArrayList<>();
        for (String name : List.of("beacon", "gate-drive", "paddle-modes", "larkmere-lock")) {
            Map<String, String> files = new LinkedHashMap<>();
            Path home = demos.resolve(name);
            Project whole = ProjectReader.read(home);
            ProjectWriter.files(whole).forEach(files::put);
            Path copy = folder.resolve(name);
            ProjectWriter.write(whole, copy);
            for (var file : files.entrySet()) {
                doors.add(new Door("project", 1, bytes(List.of(file.getValue())), (b, f) -> {
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
        return doors;
    }

    /** All that is done with a project before anything runs, and, where it has no errors, its code. */
    private static void check(Project project) {
        Review review = Review.of(project);
        if (!review.hasErrors()) {
            review.system().parts().keySet().forEach(p -> review.system().program(p).ifPresent(CGenerator.C99::generate));
        }
        ProjectWriter.files(project);
    }

    private static void drawing(byte[] b, Path folder) throws IOException {
        Files.write(folder.resolve("a.svg"), b);
        LiveDrawing.read(folder, new Drawing("d", "a.svg", List.of(new Binding("a", Effect.TURN, "x", 0, 1, "0", "90"),
                new Binding("b", Effect.MOVE_X, "x", 0, 1, "0", "5"),
                new Binding("c", Effect.TEXT, "x", 0, 1, "%.1f m", "")))).at(_ -> 0.5);
    }

    private static List<Door> runs(Path folder) throws IOException {
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
        var single = new SampleStore(List.of(new Column("drive.speed", "rpm")));
        for (int i = 0; i < 50; i++) {
            single.add(0, i * 1e-3, Math.sin(i));
        }
        Path other = folder.resolve("single.h5");
        RunExport.write(single, other);
        var shelf = new RunShelf(folder.resolve("shelf"));
        var entry = shelf.save(RunNote.beginning("desk", "2026-01-01T00:00:00Z", 1e-3, Map.of(), Map.of()), store, Map.of());
        Path note = entry.folder().resolve("run.json");
        return List.of(
                new Door("run csv", 8, csv.subList(2, 3), (b, f) -> RunCsv.read(Files.write(f.resolve("run.csv"), b))),
                new Door("any csv", 8, csv, (b, f) -> imported(Files.write(f.resolve("any.csv"), b))),
                new Door("run hdf5", 4, List.of(Files.readAllBytes(hdf)), (b, f) ->
                looked(RunImport.open(Files.write(f.resolve("run.h5"), b)))),
                new Door("any hdf5", 4, List.of(Files.readAllBytes(other)), (b, f) -> imported(Files.write(f.resolve("any.h5"), b))),
                new Door("shelf", 4, List.of(Files.readAllBytes(note)), (b, f) -> {
                    Files.write(f.resolve("shelf").resolve(entry.folder().getFileName()).resolve("run.json"), b);
                    new RunShelf(f.resolve("shelf")).list(new ArrayList<>());
                }));
    }

    private static void imported(Path run) {
        var contents = RunImport.look(run);
        List<RunImport.Mapping> mappings = new ArrayList<>();
        for (int i = 0; i < contents.columns().size(); i++) {
            String c = contents.columns().get(i);
            if (contents.time() < 0 || i != contents.time() && contents.rows().get(i).equals(contents.rows().get(contents.time()))) {
                mappings.add(new RunImport.Mapping(c, "imported." + c, Column.ofHeading(c).unit(), 1));
            }
        }
        looked(RunImport.read(run, new RunImport.Plan(contents.time() < 0 ? "" : contents.columns().get(contents.time()), 1, 1e-3,
                mappings)));
    }

    private static void looked(Samples samples) {
        for (int i = 0; i < samples.columns().size(); i++) {
            samples.series(i, Double.NEGATIVE_INFINITY, Double.POSITIVE_INFINITY);
        }
    }
}
