package boldanvil.benchmarks;

import boldanvil.app.pages.LoopPage;
import boldanvil.app.shell.Shell;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.diagram.Project;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;

/** Pictures while a gain is dragged, and a fit of five values to a long run. Parameter: the folder of the demos. */
public final class LoopBenchmark {
    private static final int DRAGS = 150;

    private LoopBenchmark() {}

    public static void main(String[] args) throws Exception {
        fit(Path.of(args[0]));
        Application.launch(Window.class, args);
    }

    /** Five values of a small motor from 10 s at 10 kHz, with noise. */
    private static void fit(Path demos) throws InterruptedException {
        Project demo = ProjectReader.read(demos.resolve("motor-position"));
        var rig = demo.rig("desk").orElseThrow();
        List<Change> changes = List.of(new Change("controller.target", -2, 1_500_000_000L),
                new Change("controller.target", 3, 4_000_000_000L),
                new Change("controller.target", 0.5, 7_000_000_000L));
        try (var run = RigStarter.prepare(demo, rig.name(), new RunOptions(10_000_000_000L, Double.POSITIVE_INFINITY, changes,
                Path.of("target/build")), Progress.NONE)) {
            run.start();
            run.awaitEnd();
            Project wrong = VariableValues.with(demo.as(rig), Map.of("R", 3.2, "L", 2e-3, "k_motor", 0.031, "J", 2e-5, "b", 1e-5),
                    Rescaled.EXACT);
            var free = List.of(new GreyBox.Free("R", 0.5, 10), new GreyBox.Free("L", 1e-4, 1e-2), new GreyBox.Free("k_motor", 0.005, 0.1),
                    new GreyBox.Free("J", 1e-6, 1e-4), new GreyBox.Free("b", 1e-7, 1e-3));
            long begin = System.nanoTime();
            var found = GreyBox.fit(wrong, free, new GreyBox.Recorded(noisy(run.store()), List.of("controller.drive_voltage"),
                    List.of("motor.armature_current", "motor.shaft_speed"), 0, 10, changes.stream().map(Intervention::set).toList()));
            System.out.printf(Locale.ROOT, "fit of 5 values over 10 s at 10 kHz: %.1f s%n", (System.nanoTime() - begin) / 1e9);
            found.values().forEach(v -> System.out.printf(Locale.ROOT, "  %-8s %12.6g ± %.2g%n", v.name(), v.value(), v.bound()));
        }
    }

    private static Samples noisy(SampleStore clean) {
        var random = new Random(1);
        Map<String, Double> noise = Map.of("motor.armature_current", 0.02, "motor.shaft_speed", 0.5);
        return SampleStore.of(new RunData(IntStream.range(0, clean.columns().size()).mapToObj(clean::series).map(s -> new Series(s.name(),
                s.unit(), s.times(), Arrays.stream(s.values()).map(v -> v + noise.getOrDefault(s.name(), 0.0) * random.nextGaussian())
                .toArray())).toList()));
    }

    /** The page itself. */
    public static final class Window extends Application {
        @Override
        public void start(Stage stage) {
            Theme.loadFonts();
            var shell = new Shell();
            stage.setScene(new Scene(shell, 1280, 800));
            stage.show();
            Path demos = Path.of(getParameters().getUnnamed().getFirst());
            Thread.ofPlatform().daemon().start(() -> {
                try {
                    drag(shell, demos, "motor-position", "controller/position", 0.2);
                    drag(shell, demos, "larkmere-lock", "controller/current loop/current controller", 0.4);
                    drag(shell, demos, "lamp-charger", "controller/current loop", 0.3);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                } finally {
                    Platform.exit();
                    System.exit(0);
                }
            });
        }

        private static void drag(Shell shell, Path demos, String demo, String at, double after) throws InterruptedException {
            on(() -> {
                shell.open(demos.resolve(demo));
                shell.show("Loop");
            });
            var session = shell.page(LoopPage.class).session();
            Project p = ProjectReader.read(demos.resolve(demo));
            on(() -> session.open(p, p.rigs().getFirst(), Cut.at(p, at), new Linearisation.OperatingPoint(after, List.of())));
            while (!ask(() -> !session.isBusy())) {
                Thread.sleep(20);
            }
            int states = ask(() -> session.shown().orElseThrow().view().loop().states().size());
            int samples = ask(() -> session.shown().orElseThrow().view().loop().samples());
            long begin = 0;
            for (int i = -30; i < DRAGS; i++) {
                begin = i == 0 ? System.nanoTime() : begin;
                double gain = Math.pow(10, 0.5 * Math.sin(i * 0.1)) * (1 + 1e-9 * i);
                on(() -> session.gain(gain));
                while (ask(() -> session.shown().orElseThrow().at().gain()) != gain) {
                    Thread.onSpinWait();
                }
            }
            System.out.printf(Locale.ROOT, "%s, %d states, %d samples in a period: %.0f pictures a second%n", demo, states, samples,
                    DRAGS / ((System.nanoTime() - begin) / 1e9));
        }

        private static void on(Runnable r) {
            ask(() -> {
                r.run();
                return true;
            });
        }

        private static <T> T ask(java.util.function.Supplier<T> what) {
            var done = new CompletableFuture<T>();
            Platform.runLater(() -> done.complete(what.get()));
            return done.join();
        }
    }
}
