package boldanvil.benchmarks;

import boldanvil.app.bench.BenchPage;
import boldanvil.app.shell.Shell;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.runs.Recording;
import boldanvil.core.testing.PartBuilder;
import com.sun.management.OperatingSystemMXBean;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;

/**
 * 32 taps at 20 kHz from a bench process, live in eight panes of the real window at 1280 × 800 with software rendering, recorded
 * in the meantime: pictures a second as the window counts them, processor time of the window's process, rows lost; then how long a
 * control's change takes to come back as a measured value. Argument: seconds to measure (20).
 */
public final class LiveBenchmark extends Application {
    private static final int TAPS = 32;
    private static final double USUAL_SECONDS = 20;

    /** Starts it; the class path needs a class that is no Application. */
    public static final class Start {
        private Start() {}

        public static void main(String[] args) {
            System.setProperty("glass.platform", "Headless");
            System.setProperty("prism.order", "sw");
            Application.launch(LiveBenchmark.class, args);
        }
    }

    private Shell shell;

    private static Path project() throws Exception {
        var part = new PartBuilder("source").sampleTime("50 us").block("echo", "tunable", "value=0", "low=-100", "high=100")
                .block("back", "tap").wire("echo.y", "back.u");
        List<BenchLayout.Chart> charts = new ArrayList<>();
        List<String> taps = new ArrayList<>();
        for (int i = 0; i < TAPS; i++) {
            part.block("sine" + i, "sine", "frequency=" + (1 + 3 * i) + " Hz", "amplitude=" + (1 + i % 4)).block("tap" + i, "tap")
                    .wire("sine" + i + ".y", "tap" + i + ".u");
            taps.add("source.tap" + i);
            if (taps.size() == 4) {
                charts.add(new BenchLayout.Chart("Pane " + (1 + i / 4), "", taps));
                taps = new ArrayList<>();
            }
        }
        Path folder = Files.createTempDirectory("live");
        ProjectWriter.write(Project.empty("Live").withParts(List.of(part.part())).withBench(new BenchLayout(List.of(), charts))
                .withRigs(List.of(new Rig("code", "compiled", Rig.Terminals.IDEAL, Map.of("source", new Rig.Place(Rig.Mode.CODE, ""))))),
                folder);
        return folder;
    }

    @Override
    public void start(Stage stage) throws Exception {
        Theme.loadFonts();
        shell = new Shell();
        stage.setScene(new Scene(shell, 1280, 800));
        stage.show();
        Path folder = project();
        shell.open(folder);
        shell.show("Bench");
        shell.run("code");
        Thread.ofPlatform().daemon().start(() -> {
            try {
                measure();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            } finally {
                Platform.runLater(() -> {
                    shell.close();
                    Platform.exit();
                });
            }
        });
    }

    /** Size of what has been recorded, in GB. */
    private double size() {
        return shell.session().recording().map(r -> r.entry().folder().resolve("samples.h5").toFile().length() / 1e9).orElse(0.0);
    }

    private static void pause(double seconds) throws InterruptedException {
        new CountDownLatch(1).await(Math.round(seconds * 1e9), TimeUnit.NANOSECONDS);
    }

    private void measure() throws InterruptedException {
        while (shell.session().run().isEmpty() || shell.session().run().get().seconds() < 30) {
            pause(0.1);
        }
        var run = shell.session().run().orElseThrow();
        var os = (OperatingSystemMXBean) ManagementFactory.getOperatingSystemMXBean();
        long cpu = os.getProcessCpuTime();
        long wall = System.nanoTime();
        long pictures = shell.page(BenchPage.class).traces().frames();
        int column = run.store().indexOf("source.tap0");
        long rows = run.store().count(column, -1, 1e9);
        var given = getParameters().getRaw();
        pause(given.isEmpty() ? USUAL_SECONDS : Double.parseDouble(given.getFirst()));
        double seconds = (System.nanoTime() - wall) / 1e9;
        System.out.printf(Locale.ROOT, "run of %.0f s, recorded file %.2f GB, failure: %s%n", run.seconds(), size(),
                shell.session().recording().flatMap(Recording::failure).map(Object::toString).orElse("none"));
        System.out.printf(Locale.ROOT,
                "%.1f pictures per second, window process %.0f %% of a core, %.0f rows a second, %d lost, %d overruns, heap %.0f MB%n",
                (shell.page(BenchPage.class).traces().frames() - pictures) / seconds, 100 * (os.getProcessCpuTime() - cpu) / 1e9 / seconds,
                (run.store().count(column, -1, 1e9) - rows) / seconds, run.health().lostRows(), run.health().overruns(),
                (Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory()) / 1e6);
        double[] millis = new double[60];
        int back = run.store().indexOf("source.back");
        for (int i = 0; i < millis.length; i++) {
            double value = 1 + i;
            long t = System.nanoTime();
            Platform.runLater(() -> shell.session().set("source.echo", value));
            while (run.store().latest(back) != value && System.nanoTime() - t < 2_000_000_000L) {
                pause(0.0005);
            }
            millis[i] = (System.nanoTime() - t) / 1e6;
            pause(0.05);
        }
        Arrays.sort(millis);
        System.out.printf(Locale.ROOT, "a control's change comes back as a measured value after %.1f ms in the median, %.1f ms at most%n",
                millis[30], millis[59]);
    }
}
