package boldanvil.benchmarks;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.sheet.SheetCanvas;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.replay.Replay;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.Routes;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetSource;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.scene.input.ScrollEvent;
import javafx.stage.Stage;

/** Large sheets: routing, panning, an edit to its findings, and going back in a long run. */
public final class SheetBenchmark {
    private static final int ROUTED = 2_000;
    private static final int LARGE = 10_000;
    private static final double LONG = 600;

    private SheetBenchmark() {}

    public static void main(String[] args) throws Exception {
        Application.launch(Window.class, args);
    }

    /** A part of chains of gains and sums, and the sources that begin them. */
    private static Project project(int blocks) {
        List<Block> all = new ArrayList<>();
        List<Wire> wires = new ArrayList<>();
        int columns = 40;
        var random = new Random(3);
        for (int i = 0; i < blocks; i++) {
            boolean first = i % columns == 0;
            String type = first ? "constant" : i % 3 == 0 ? "sum" : "gain";
            all.add(Block.of("b" + i, type, "n" + i, 190.0 * (i % columns), 90.0 * (i / columns), Map.of()));
            if (!first) {
                wires.add(new Wire("b" + (i - 1), "y", "b" + i, type.equals("sum") ? "u1" : "u"));
                if (type.equals("sum")) {
                    int from = i / columns * columns + random.nextInt(i % columns);
                    wires.add(new Wire("b" + from, "y", "b" + i, "u2"));
                }
            }
        }
        var part = new Part("large", "Large", Part.Kind.CONTROLLER, "1 ms", "100 us", "rk4", "float64", 0, 0,
                List.of(new Sheet("main", all, wires)));
        return Project.empty("Large").withParts(List.of(part));
    }

    private static double seconds(Runnable work) {
        long begin = System.nanoTime();
        work.run();
        return (System.nanoTime() - begin) / 1e9;
    }

    private static void routing() {
        var p = project(ROUTED * 3 / 4);
        var scene = SheetScene.of(SheetSource.of(Review.of(p)), new SheetRef("large", "main"), "large");
        for (int i = 0; i < 3; i++) {
            double t = seconds(() -> Routes.of(scene));
            System.out.printf("routing of %d wires: %.2f s%n", scene.links().size(), t);
        }
    }

    private static void editing() {
        Project p = project(LARGE);
        Review.of(p);
        for (int i = 0; i < 3; i++) {
            Project next = p.change(new SheetRef("large", "main"), s -> s.change("b41", b -> b.with("k", "nowhere")));
            int[] findings = new int[1];
            double t = seconds(() -> findings[0] = Review.of(next).findings().size());
            System.out.printf("one block of %d changed, to its %d findings: %.2f s%n", LARGE, findings[0], t);
        }
    }

    private static void replay() throws Exception {
        Project p = ProjectReader.read(Path.of(System.getProperty("boldanvil.demo", "demo/larkmere-lock")));
        try (var run = RigStarter.prepare(p, "desk", new RunOptions((long) (LONG * 1e9), Double.POSITIVE_INFINITY, List.of(),
                Files.createTempDirectory("replay")), Progress.NONE)) {
            run.start();
            double ran = seconds(() -> {
                try {
                    run.awaitEnd();
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
            });
            var replay = new Replay(p, run.rig(), run.interventions(), run.store());
            double prepared = seconds(() -> {
                try {
                    replay.prepare(_ -> { });
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                }
            });
            System.out.printf("a run of %.0f s took %.1f s; repeating it once %.1f s, %d differences%n", LONG, ran, prepared,
                    replay.differences().size());
            var random = new Random(5);
            double longest = 0;
            double sum = 0;
            int n = 40;
            var sheets = List.copyOf(Paths.of(p).entrySet());
            for (int i = 0; i < n; i++) {
                var e = sheets.get(random.nextInt(sheets.size()));
                double at = random.nextDouble() * LONG;
                double t = seconds(() -> replay.values(e.getKey(), e.getValue().getFirst(), at));
                longest = Math.max(longest, t);
                sum += t;
            }
            System.out.printf("values of a sheet at a random instant: %.0f ms in the mean, %.0f ms at most of %d%n", 1e3 * sum / n,
                    1e3 * longest, n);
        }
    }

    /** Needs the toolkit. */
    public static final class Window extends Application {
        private int pictures;

        @Override
        public void start(Stage stage) throws Exception {
            Theme.loadFonts();
            Path folder = Files.createTempDirectory("large");
            ProjectWriter.write(project(ROUTED), folder);
            var workspace = new Workspace(Runnable::run, Runnable::run);
            workspace.open(folder);
            var navigator = new Navigator(workspace);
            var canvas = new SheetCanvas(workspace, new SheetEdits(workspace), navigator, () -> Theme.DAY, Runnable::run);
            stage.setScene(new Scene(canvas, 1000, 700));
            stage.show();
            navigator.open("large");
            canvas.refresh();
            Thread.ofPlatform().start(() -> {
                try {
                    for (double zoom : new double[] {1, 0.35, 0.15}) {
                        pan(canvas, zoom);
                    }
                    routing();
                    editing();
                    replay();
                } catch (Exception e) {
                    System.err.println(e);
                } finally {
                    System.exit(0);
                }
            });
        }

        private void pan(SheetCanvas canvas, double zoom) throws InterruptedException {
            Platform.runLater(() -> canvas.zoomTo(zoom));
            Thread.sleep(1_500);
            pictures = 0;
            var timer = new javafx.animation.AnimationTimer() {
                private int n;

                @Override
                public void handle(long now) {
                    double dx = n++ / 60 % 2 == 0 ? -14 : 14;
                    canvas.fireEvent(new ScrollEvent(ScrollEvent.SCROLL, 400, 300, 0, 0, false, false, false, false, false, false, dx,
                            dx / 2, dx,
                            dx / 2, ScrollEvent.HorizontalTextScrollUnits.NONE, 0, ScrollEvent.VerticalTextScrollUnits.NONE, 0, 0, null));
                    pictures++;
                }
            };
            Platform.runLater(timer::start);
            Thread.sleep(5_000);
            Platform.runLater(timer::stop);
            System.out.printf("panning a sheet of %d blocks at scale %.2f: %.0f pictures a second%n", ROUTED, zoom, pictures / 5.0);
        }
    }
}
