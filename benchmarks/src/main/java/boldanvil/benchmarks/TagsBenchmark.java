package boldanvil.benchmarks;

import boldanvil.app.pages.TagsPage;
import boldanvil.app.shell.Shell;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.PlcProcess;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Place;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.tags.TagPorts;
import boldanvil.core.tags.TagSources;
import com.sun.management.OperatingSystemMXBean;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;

/** Thousands of tags of the PLC stand-in: browsing, watching in the window, and how punctual scans are beside that. */
public final class TagsBenchmark {
    private static final int WATCHED = 5_000;
    private static final int BROWSED = 20_000;
    private static final int SECONDS = 15;
    private static final int LENGTH = 500;
    private static final int WARM_UP = 45;

    private TagsBenchmark() {}

    public static void main(String[] args) {
        if (args.length < 2) {
            try (var plc = PlcProcess.start(Map.of())) {
                download(plc, BROWSED);
                for (int i = 0; i < 3; i++) {
                    browse(plc);
                }
            }
            jitter();
        }
        Application.launch(Window.class, args);
    }

    /** All values change with every scan of 100 ms. */
    private static String program(int tags) {
        var text = new StringBuilder("PROGRAM Many\nVAR\n");
        int arrays = tags / 2 / LENGTH;
        for (int k = 0; k < arrays; k++) {
            text.append("    r").append(k).append(" : ARRAY[1..").append(LENGTH).append("] OF REAL;\n    n").append(k)
                    .append(" : ARRAY[1..")
                    .append(LENGTH).append("] OF INT;\n");
        }
        text.append("    i : DINT;\nEND_VAR\nFOR i := 1 TO ").append(LENGTH).append(" DO\n");
        for (int k = 0; k < arrays; k++) {
            text.append(String.format(Locale.ROOT, "    r%1$d[i] := r%1$d[i] + 0.5;%n    n%1$d[i] := n%1$d[i] + 1;%n", k));
        }
        return text.append("END_FOR;\nEND_PROGRAM\nCONFIGURATION c\n    TASK t(INTERVAL := T#100ms, PRIORITY := 1);\n")
                .append("    PROGRAM Many WITH t : Many;\nEND_CONFIGURATION\n").toString();
    }

    private static void download(PlcProcess plc, int tags) {
        plc.control().ask("download", Map.of("text", program(tags)));
        plc.control().ask("run", Map.of());
    }

    private static void browse(PlcProcess plc) {
        try (var link = LinkProtocol.of(plc.opcUa()).tags(plc.opcUa(), Place.named("PLC"), plc.access())) {
            long begin = System.nanoTime();
            int found = link.browse(() -> false).size();
            System.out.printf(Locale.ROOT, "browse of %d tags: %.2f s%n", found, (System.nanoTime() - begin) / 1e9);
        }
    }

    /** How late the scans of a task of 10 ms begin, alone on the machine. */
    private static void jitter() {
        try (var plc = PlcProcess.start(Map.of())) {
            plc.control().ask("download", Map.of("text", program(1_000).replace("T#100ms", "T#10ms")));
            plc.control().ask("run", Map.of());
            sleep(SECONDS);
            late("task of 10 ms, nothing else", plc);
        }
    }

    private static void late(String what, PlcProcess plc) {
        var s = plc.control().ask("status", Map.of());
        var t = s.path("tasks").path(0);
        System.out.printf(Locale.ROOT,
                "%s: %d scans, %d overruns, begin late by %.0f µs in the mean, %.1f ms at most; a scan takes %.0f µs%n", what,
                t.path("scans").asLong(), t.path("overruns").asLong(), s.path("lateness").path("mean").asDouble() * 1e6,
                s.path("lateness").path("longest").asDouble() * 1e3, t.path("mean").asDouble() * 1e6);
    }

    private static void sleep(int seconds) {
        try {
            Thread.sleep(1_000L * seconds);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** The window with all tags bound. */
    public static final class Window extends Application {
        @Override
        public void start(Stage stage) {
            Theme.loadFonts();
            var shell = new Shell();
            stage.setScene(new Scene(shell, 1280, 800));
            stage.show();
            Thread.ofPlatform().start(() -> measure(shell));
        }

        private static void measure(Shell shell) {
            try (var plc = PlcProcess.start(Map.of())) {
                download(plc, WATCHED);
                Path folder = Files.createTempDirectory("tags").resolve("many");
                ProjectWriter.write(project(), folder);
                on(() -> {
                    shell.open(folder);
                    shell.show("Tags");
                });
                sleep(5);
                var page = shell.page(TagsPage.class);
                on(() -> page.watch(plc.opcUa(), plc.access()));
                sleep(WARM_UP);
                var os = (OperatingSystemMXBean) ManagementFactory.getOperatingSystemMXBean();
                long cpu = os.getProcessCpuTime();
                long begin = System.nanoTime();
                long readings = page.readings();
                double drawn = window();
                sleep(SECONDS);
                double seconds = (System.nanoTime() - begin) / 1e9;
                System.out.printf(Locale.ROOT,
                        "%d tags live at 100 ms: %.0f readings/s; the window takes %.0f %% of a core, with the link %.0f %%%n",
                        WATCHED, (page.readings() - readings) / seconds, 100 * (window() - drawn) / seconds,
                        (os.getProcessCpuTime() - cpu) / 1e7 / seconds);
                late("task of 100 ms beside that", plc);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            } finally {
                Platform.runLater(() -> {
                    shell.close();
                    Platform.exit();
                });
            }
        }

        /** Time the threads of the toolkit have computed, in seconds. */
        private static double window() {
            var threads = ManagementFactory.getThreadMXBean();
            return Arrays.stream(threads.getAllThreadIds()).filter(id -> threads.getThreadInfo(id) != null && threads.getThreadInfo(id)
                    .getThreadName().matches("JavaFX.*|Quantum.*|Headless.*|Prism.*"))
                            .mapToDouble(id -> threads.getThreadCpuTime(id) / 1e9).sum();
        }

        private static Project project() {
            var tags = TagSources.ofText(program(WATCHED), Place.named("program")).lines();
            var part = new Part("many", "Many tags", Part.Kind.CONTROLLER, "100 ms", "1 ms", "rk4", "float64", 0, 0,
                    List.of(Sheet.empty("main")));
            Project p = Project.empty("Many").withParts(List.of(part)).withTags("many", new TagTable(tags, Map.of(), program(WATCHED)));
            return TagPorts.add(p, "many", tags.subList(0, WATCHED));
        }

        private static void on(Runnable r) {
            var done = new CompletableFuture<Void>();
            Platform.runLater(() -> {
                r.run();
                done.complete(null);
            });
            done.join();
        }
    }
}
