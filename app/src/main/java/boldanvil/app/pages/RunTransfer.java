package boldanvil.app.pages;

import boldanvil.app.chart.TraceView;
import boldanvil.app.model.Reports;
import boldanvil.app.model.RunPlots;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.finding.FindingException;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.transfer.RunExport;
import boldanvil.core.transfer.RunImport;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.MenuButton;
import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Executor;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.embed.swing.SwingFXUtils;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuItem;
import javafx.stage.FileChooser;
import javafx.stage.Popup;

/** Export, import and reuse of recorded runs. */
final class RunTransfer {
    private final Workspace workspace;
    private final TraceView traces;
    private final Executor background;
    private final Consumer<Series> playback;
    private final Consumer<String> message;
    private final Supplier<RunShelf> shelf;
    private final Runnable refresh;
    private Popup popup;

    /**
     * @param traces what is on show
     * @param playback takes a recorded signal as the source of stimuli
     * @param message shows what was done, or why not
     * @param refresh lists the runs again
     */
    RunTransfer(PageHost host, TraceView traces, Consumer<Series> playback, Consumer<String> message, Supplier<RunShelf> shelf,
            Runnable refresh) {
        workspace = host.workspace();
        background = host.background();
        this.traces = traces;
        this.playback = playback;
        this.message = message;
        this.shelf = shelf;
        this.refresh = refresh;
    }

    /** The button with everything that can be done with the run on show. */
    MenuButton button() {
        var export = new MenuButton("Export");
        export.setId("run-export");
        RunExport.formats().forEach(f -> export.getItems().add(menu(f.name() + " …", () -> export(f.name(), f.endings().getFirst()))));
        for (String kind : List.of("PNG", "SVG", "PDF")) {
            export.getItems().add(menu(kind + " …", () -> export(kind, "." + kind.toLowerCase(Locale.ROOT))));
        }
        var play = new Menu("Use as stimulus");
        play.getItems().add(new MenuItem("…"));
        export.getItems().addAll(new SeparatorMenuItem(), play);
        export.setOnShowing(_ -> offerPlayback(play));
        return export;
    }

    private static MenuItem menu(String text, Runnable action) {
        var i = new MenuItem(text);
        i.setOnAction(_ -> action.run());
        return i;
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            message.accept(e.findings().getFirst().toString());
        }
    }

    /** Offers the signals of the run on show as the source of stimuli. */
    private void offerPlayback(Menu play) {
        play.getItems().clear();
        if (traces.layers().isEmpty()) {
            play.getItems().add(new MenuItem("Choose a run first"));
            return;
        }
        Samples samples = traces.layers().getFirst().samples();
        for (Column c : samples.columns()) {
            play.getItems().add(menu(c.name().replace('_', ' '), () -> {
                double[] s = traces.measured();
                background.execute(() -> {
                    Series series = samples.series(samples.indexOf(c.name()), s[0], s[1]);
                    Platform.runLater(() -> {
                        playback.accept(series);
                        message.accept(c.name().replace('_', ' ') + " can be used as a stimulus by any control on the Bench.");
                    });
                });
            }));
        }
    }

    /** Asks for a file and writes what is on show. */
    void export(String kind, String ending) {
        if (traces.layers().isEmpty()) {
            message.accept("Choose a run first.");
            return;
        }
        var chooser = new FileChooser();
        chooser.setTitle("Export as " + kind);
        chooser.setInitialFileName(traces.layers().getFirst().name().replaceAll("[^A-Za-z0-9_-]+", "-") + ending);
        File file = chooser.showSaveDialog(traces.getScene().getWindow());
        if (file != null) {
            export(kind, file.toPath());
        }
    }

    /** Writes what is on show: the samples of the first run between the cursors or on the screen, or the charts as a picture. */
    void export(String kind, Path file) {
        var layers = traces.layers();
        double[] span = traces.measured();
        if (kind.equals("PNG")) {
            var image = traces.snapshot(null, null);
            background.execute(() -> finished(file, () -> javax.imageio.ImageIO.write(SwingFXUtils.fromFXImage(image, null), "png",
                    file.toFile())));
            return;
        }
        var charts = traces.charts();
        var names = layers.getFirst().samples().columns().stream().map(Column::name).toList();
        background.execute(() -> finished(file, () -> {
            switch (kind) {
                case "SVG", "PDF" -> Reports.plot(RunPlots.of(workspace.project().name(),
                        charts.stream().filter(c -> c.kind() == Kind.TRACE).toList(), layers.stream()
                        .map(l -> new RunPlots.Shown(l.name(), l.samples(), l.shift())).toList(), traces.view().begin(),
                        traces.view().end()), file);
                default -> RunExport.write(RunExport.part(layers.getFirst().samples(), names, span[0], span[1]), file);
            }
        }));
    }

    /** Something that writes a file. */
    private interface Writing {
        void run() throws IOException;
    }

    private void finished(Path file, Writing how) {
        String outcome;
        try {
            how.run();
            outcome = "Wrote " + file.getFileName() + ".";
        } catch (FindingException e) {
            outcome = e.findings().getFirst().toString();
        } catch (IOException e) {
            outcome = file + ": The file cannot be written: " + e.getMessage() + ". Choose another folder.";
        }
        String text = outcome;
        Platform.runLater(() -> message.accept(text));
    }

    /** Asks for a file and imports it. */
    void importFile() {
        var chooser = new FileChooser();
        chooser.setTitle("Import a recording");
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("CSV, text or HDF5", "*.csv", "*.txt", "*.tsv", "*.h5",
                "*.hdf5"));
        File file = chooser.showOpenDialog(traces.getScene().getWindow());
        if (file != null) {
            importFile(file.toPath());
        }
    }

    /** Asks what the columns of a file are, then puts it on the shelf. */
    void importFile(Path file) {
        guarded(() -> {
            var contents = RunImport.look(file);
            if (popup != null) {
                popup.hide();
            }
            popup = PopupCard.below(traces, new ImportCard(file.getFileName().toString(), contents, plan -> {
                try {
                    var samples = RunImport.read(file, plan);
                    var note = RunNote.beginning("imported", Instant.now().toString(), 0, Map.of(), Map.of())
                            .named(file.getFileName().toString()).ended(samples.end(), List.of(), List.of());
                    var entry = shelf.get().save(note, samples, Map.of());
                    popup.hide();
                    refresh.run();
                    message.accept("Imported " + entry.note().title() + ".");
                    return "";
                } catch (FindingException e) {
                    return e.findings().getFirst().toString();
                }
            }));
        });
    }
}
