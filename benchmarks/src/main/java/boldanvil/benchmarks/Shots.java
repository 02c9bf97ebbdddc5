package boldanvil.benchmarks;

import boldanvil.app.model.RigSession;
import boldanvil.app.pages.LoopPage;
import boldanvil.app.pages.RunsPage;
import boldanvil.app.pages.TrialsPage;
import boldanvil.app.sheet.SheetPage;
import boldanvil.app.shell.Shell;
import boldanvil.app.widget.Theme;
import boldanvil.core.trial.FaultText;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.BooleanSupplier;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.embed.swing.SwingFXUtils;
import javafx.scene.Scene;
import javafx.scene.control.ComboBox;
import javafx.stage.Stage;
import javax.imageio.ImageIO;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.rendering.PDFRenderer;

/** Takes a 1280 × 800 picture of every main view of the demo and exits. Parameters: target folder, folder of the demo. */
public final class Shots extends Application {
    private static final int REPORT_DPI = 76;

    private Shell shell;
    private Scene scene;
    private Path target;

    @Override
    public void start(Stage stage) {
        Theme.loadFonts();
        target = Path.of(getParameters().getUnnamed().get(0));
        shell = new Shell();
        scene = new Scene(shell, 1280, 800);
        stage.setScene(scene);
        stage.show();
        Path project = Path.of(getParameters().getUnnamed().get(1));
        Thread.ofPlatform().daemon().name("shots").start(() -> {
            try {
                Files.createDirectories(target);
                take(project);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            } finally {
                Platform.runLater(() -> {
                    shell.close();
                    Platform.exit();
                });
            }
        });
    }

    private void take(Path project) {
        shot("start", () -> { });
        on(() -> {
            shell.open(project);
            shell.show("Sheet");
        });
        shot("sheet-system", () -> shell.navigator().open(""));
        shot("variables", () -> shell.show("Variables"));
        shot("patch", () -> shell.show("Patch"));
        on(() -> shell.show("Mapping"));
        await(() -> shell.lookup("#mapping-signals") instanceof javafx.scene.control.TableView<?> t && !t.getItems().isEmpty(), 30);
        shot("mapping", () -> { });
        loop();
        run("desk", 4.2);
        past();
        identified();
        run("swage", 4.2);
        shot("bench", () -> shell.show("Bench"));
        on(() -> {
            press("bench-faults");
            shell.session().insert(FaultText.of("offset of 0.1 V on drive.shunt A", shell.workspace().review().system(), Map.of()));
        });
        shot("bench-faults", () -> { });
        on(() -> {
            shell.session().clear("");
            press("bench-controls");
        });
        endRun();
        shot("build", () -> shell.show("Build"));
        on(() -> {
            shell.show("Runs");
            var items = shell.page(RunsPage.class).list().getItems();
            if (items.size() >= 2) {
                shell.page(RunsPage.class).list().getSelectionModel().selectIndices(0, 1);
            }
        });
        await(() -> !shell.page(RunsPage.class).verdict().startsWith("Reading"), 30);
        on(() -> press("run-difference"));
        await(() -> !shell.page(RunsPage.class).verdict().startsWith("Reading"), 30);
        shot("runs", () -> { });
        on(() -> press("run-difference"));
        on(() -> {
            shell.show("Trials");
            var varied = new java.util.LinkedHashMap<String, String>();
            varied.put("Kp_x", "4 : 28 : 13");
            varied.put("drive.paddle.water_load", "[0, 300, 600, 900]");
            shell.page(TrialsPage.class).sweep().vary(boldanvil.core.study.Way.GRID, varied);
            shell.page(TrialsPage.class).sweep().start();
        });
        await(() -> !shell.sweeps().isRunning(), 60);
        on(() -> shell.page(TrialsPage.class).trials());
        on(() -> press("trial-run-all"));
        await(() -> !shell.trials().isRunning() && shell.trials().records().size() == 3, 60);
        shot("trials", () -> shell.show(boldanvil.core.finding.Place.trial("paddle-follows", 12)));
        report();
        shot("trials-sweep", () -> shell.page(TrialsPage.class).sweep()
                .choose("drive.position", "minimum"));
        others(project);
    }

    /** Two pages of the report of the trials, with steps and with a chart, as a reader sees them. */
    private void report() {
        Path pdf = target.resolve("report.pdf");
        on(() -> shell.page(TrialsPage.class).trials().saveReport(pdf));
        await(() -> Files.exists(pdf), 30);
        try (var document = Loader.loadPDF(pdf.toFile())) {
            var renderer = new PDFRenderer(document);
            BufferedImage left = renderer.renderImageWithDPI(2, REPORT_DPI);
            BufferedImage right = renderer.renderImageWithDPI(document.getNumberOfPages() - 1, REPORT_DPI);
            var both = new BufferedImage(left.getWidth() + right.getWidth() + 4, left.getHeight(), BufferedImage.TYPE_INT_RGB);
            var g = both.createGraphics();
            g.drawImage(left, 0, 0, null);
            g.drawImage(right, left.getWidth() + 4, 0, null);
            g.dispose();
            ImageIO.write(both, "png", target.resolve("trials-report.png").toFile());
            Files.delete(pdf);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The speed loop with two designs. */
    private void loop() {
        on(() -> shell.show("Loop"));
        pause(500);
        on(() -> {
            type("loop-after", "0.4 s");
            press("loop-open");
        });
        await(() -> !shell.page(LoopPage.class).session().isBusy(), 30);
        on(() -> {
            type("loop-crossover", "80");
            type("loop-margin", "65 °");
            press("loop-design");
        });
        await(() -> !shell.page(LoopPage.class).session().isBusy(), 30);
        shot("loop", () -> { });
    }

    /** The current loop at an instant of the run. */
    private void past() {
        on(() -> {
            shell.show("Sheet");
            shell.navigator().open("controller/current loop");
            command("Show the values at a past instant");
        });
        await(() -> shell.page(SheetPage.class).timeTravel().progress() >= 1, 60);
        on(() -> {
            shell.page(SheetPage.class).timeTravel().goTo(0.731);
            var canvas = shell.page(SheetPage.class).canvas();
            var output = canvas.shown().nodes().stream().filter(n -> n.title().equals("output")).findFirst().orElseThrow();
            canvas.select(canvas.shown().links().stream().map(l -> l.wire()).filter(w -> w.from().equals(output.id())).findFirst()
                    .orElseThrow());
            command("Why this value");
        });
        await(() -> shell.page(SheetPage.class).timeTravel().why().isPresent(), 10);
        shot("sheet-past", () -> { });
        on(() -> shell.page(SheetPage.class).timeTravel().end());
    }

    private void command(String name) {
        shell.commandList().stream().filter(c -> c.name().equals(name)).findFirst().orElseThrow().action().run();
    }

    /** The other demo projects beside it. */
    private void others(Path project) {
        feedback(project);
        networks(project);
        plc(project);
    }

    /** The lock sequence on the PLC stand-in. */
    private void plc(Path project) {
        on(() -> shell.open(project.resolveSibling("lock-sequence")));
        run("cabinet", 22);
        on(() -> shell.show("Tags"));
        on(() -> press("tags-view-bindings"));
        on(() -> press("bind-watch"));
        pause(2_500);
        shot("tags", () -> { });
        on(() -> press("tags-view-program"));
        pause(1_500);
        on(() -> {
            var box = (ComboBox<?>) find("program-instance");
            box.getSelectionModel().select(1);
        });
        pause(1_500);
        shot("tags-program", () -> { });
        endRun();
        run("plc", 30);
        // The boat is in, and the chamber fills.
        pause(36_000);
        on(() -> {
            ((ComboBox<?>) find("span")).getSelectionModel().select(9);
        });
        pause(1_000);
        shot("lock-running", () -> { });
        endRun();
    }

    /** Circuits, drives and fluids as networks. */
    private void networks(Path project) {
        on(() -> shell.open(project.resolveSibling("lamp-charger")));
        run("desk", 0.4);
        on(() -> {
            shell.show("Sheet");
            shell.navigator().open("stage");
            command("Show the values at a past instant");
        });
        await(() -> shell.page(SheetPage.class).timeTravel().progress() >= 1, 60);
        shot("network-charger", () -> { });
        on(() -> shell.page(SheetPage.class).timeTravel().end());
    }

    /** Values of the motor, found from the last run. */
    private void identified() {
        on(() -> {
            shell.show("Loop");
            press("loop-view-identify");
        });
        pause(400);
        on(() -> {
            choose("identify-out", "drive.current");
            choose("identify-model", "Variables of the sheet");
        });
        pause(200);
        on(() -> {
            choose("identify-variable", "R");
            choose("identify-in", "drive.voltage");
        });
        pause(200);
        on(() -> {
            choose("identify-variable", "k_motor");
            choose("identify-in", "drive.speed");
        });
        pause(200);
        on(() -> {
            type("identify-to", "1.5 s");
            press("identify-start");
        });
        await(() -> !shell.page(LoopPage.class).identification().isBusy(), 60);
        shot("loop-identify", () -> { });
        on(() -> press("loop-view-loop"));
    }

    /** The state feedback of the level hold, designed anew. */
    private void feedback(Path project) {
        on(() -> {
            shell.open(project.resolveSibling("level-hold"));
            shell.show("Loop");
        });
        pause(500);
        on(() -> {
            ((ComboBox<?>) find("loop-place")).getEditor().setText("controller/hold");
            type("loop-after", "60 s");
            press("loop-open");
        });
        await(() -> !shell.page(LoopPage.class).session().isBusy(), 30);
        on(() -> press("loop-view-state-feedback"));
        pause(400);
        on(() -> choose("feedback-out", "controller/level"));
        pause(200);
        on(() -> {
            type("feedback-deviations", "2 cm");
            type("feedback-input", "0.2");
            type("feedback-integral", "0.1");
            type("feedback-disturbed", "0.05");
            type("feedback-noise", "3 mm");
            press("feedback-start");
        });
        await(() -> !shell.page(LoopPage.class).feedback().isBusy(), 30);
    }

    @SuppressWarnings("unchecked")
    private void choose(String id, String text) {
        if (find(id) instanceof javafx.scene.control.ComboBox<?> box) {
            box.getOnShowing().handle(null);
            ((javafx.scene.control.ComboBox<String>) box).setValue(text);
        } else {
            ((javafx.scene.control.ChoiceBox<String>) find(id)).setValue(text);
        }
    }

    private javafx.scene.Node find(String id) {
        return find(scene.getRoot(), id);
    }

    /** Looked up by hand, since addresses have dots that a style selector would take for classes. */
    private static javafx.scene.Node find(javafx.scene.Node n, String id) {
        if (id.equals(n.getId())) {
            return n;
        }
        if (n instanceof javafx.scene.Parent p) {
            for (var child : p.getChildrenUnmodifiable()) {
                var found = find(child, id);
                if (found != null) {
                    return found;
                }
            }
        }
        return null;
    }

    private void press(String id) {
        if (find(id) instanceof javafx.scene.control.ButtonBase b) {
            b.fire();
        } else {
            throw new IllegalStateException("no button " + id);
        }
    }

    private void type(String id, String text) {
        ((javafx.scene.control.TextField) find(id)).setText(text);
    }

    private void run(String rig, double seconds) {
        on(() -> shell.show("Bench"));
        on(() -> shell.run(rig));
        await(() -> shell.session().run().filter(r -> shell.session().phase() == RigSession.Phase.RUNNING && r.seconds() > seconds)
                .isPresent() || shell.session().phase() == RigSession.Phase.IDLE, 60);
        if (rig.equals("desk")) {
            endRun();
        }
    }

    private void endRun() {
        on(() -> shell.session().stop());
        await(() -> !shell.session().isBusy(), 20);
        pause(600);
    }

    private void shot(String name, Runnable first) {
        on(first);
        pause(1_400);
        on(() -> {
            try {
                ImageIO.write(SwingFXUtils.fromFXImage(scene.snapshot(null), null), "png", target.resolve(name + ".png").toFile());
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        System.out.println(target.resolve(name + ".png"));
    }

    private static void pause(long millis) {
        try {
            new CountDownLatch(1).await(millis, TimeUnit.MILLISECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private static void await(BooleanSupplier condition, int seconds) {
        long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(seconds);
        while (!condition.getAsBoolean() && System.nanoTime() < end) {
            pause(30);
        }
    }

    private static void on(Runnable action) {
        var done = new CompletableFuture<Void>();
        Platform.runLater(() -> {
            try {
                action.run();
                done.complete(null);
            } catch (RuntimeException e) {
                done.completeExceptionally(e);
            }
        });
        try {
            done.get(30, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException e) {
            throw new IllegalStateException(e);
        }
    }
}
