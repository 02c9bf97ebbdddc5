package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.core.build.Builder;
import boldanvil.core.export.Exporter;
import boldanvil.core.export.Exporters;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.output.GeneratedFile;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import javafx.application.Platform;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;
import javafx.util.StringConverter;

/** The files a rig makes of its parts, in a chosen format: to read, to follow back to the sheet, to write into a folder. */
final class GeneratedFiles extends VBox {
    /** A line of generated code. */
    private record Line(int number, String text, String place) {}

    private final PageHost host;
    private final ChoiceBox<Exporter> format = new ChoiceBox<>();
    private final ChoiceBox<String> files = new ChoiceBox<>();
    private final ListView<Line> code = new ListView<>();
    private final Button write = new Button("Write files …");
    /** The files of each part. */
    private Map<String, List<GeneratedFile>> shownParts = Map.of();
    /** The same by the names in the list. */
    private Map<String, GeneratedFile> shownFiles = Map.of();

    /** @param formatChanged asks for the files in another format */
    GeneratedFiles(PageHost host, Runnable formatChanged) {
        this.host = host;
        code.setId("code");
        code.setCellFactory(_ -> new CodeCell());
        VBox.setVgrow(code, Priority.ALWAYS);
        files.setId("files");
        files.valueProperty().addListener((_, _, v) -> showFile(v));
        var jump = new Button("Show its block on the sheet");
        jump.setId("jump");
        jump.setOnAction(_ -> jump());
        jump.setDisable(true);
        code.getSelectionModel().selectedItemProperty().addListener((_, _, l) -> jump.setDisable(l == null || !l.place().contains("/")));
        format.setId("format");
        format.getItems().setAll(Exporters.all());
        format.setConverter(new StringConverter<>() {
            @Override
            public String toString(Exporter e) {
                return e == null ? "" : e.title();
            }

            @Override
            public Exporter fromString(String title) {
                return null;
            }
        });
        format.setValue(format.getItems().getFirst());
        format.valueProperty().addListener((_, _, _) -> formatChanged.run());
        write.setId("write-files");
        write.setOnAction(_ -> chooseFolder());
        var bar = new HBox(8, format, files, jump, write);
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setPadding(new Insets(8, 12, 8, 12));
        getChildren().addAll(bar, code);
    }

    /** The format that is chosen. */
    Exporter format() {
        return format.getValue();
    }

    /** Shows the files of each part. */
    void show(Map<String, List<GeneratedFile>> parts) {
        shownParts = parts;
        shownFiles = named(parts);
        write.setDisable(shownFiles.isEmpty());
        String before = files.getValue();
        files.getItems().setAll(shownFiles.keySet());
        files.setValue(files.getItems().contains(before) ? before
                : files.getItems().stream().filter(n -> n.endsWith(".c")).findFirst().or(() -> files.getItems().stream().findFirst())
                .orElse(null));
        showFile(files.getValue());
    }

    /** Files by their names, where several parts have one of the same name with that of the part before. */
    private static Map<String, GeneratedFile> named(Map<String, List<GeneratedFile>> parts) {
        Map<String, Long> counts = parts.values().stream().flatMap(List::stream)
                .collect(Collectors.groupingBy(GeneratedFile::name, Collectors.counting()));
        Map<String, GeneratedFile> all = new LinkedHashMap<>();
        parts.forEach((part, list) -> list.forEach(f -> all.put(counts.get(f.name()) > 1 ? part + "/" + f.name() : f.name(), f)));
        return all;
    }

    private void chooseFolder() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Write files");
        var folder = chooser.showDialog(getScene().getWindow());
        if (folder != null) {
            writeFiles(folder.toPath());
        }
    }

    /** Writes the files on show, a folder for each part. */
    void writeFiles(Path folder) {
        var parts = shownParts;
        host.background().execute(() -> {
            String outcome;
            try {
                parts.forEach((part, list) -> Builder.write(list, folder.resolve(part)));
                outcome = "Wrote " + Figures.count(parts.values().stream().mapToInt(List::size).sum(), "file") + " into " + folder + ".";
            } catch (FindingException e) {
                outcome = e.findings().getFirst().toString();
            }
            String text = outcome;
            Platform.runLater(() -> host.showMessage(text));
        });
    }

    private void showFile(String name) {
        List<Line> lines = new ArrayList<>();
        Optional.ofNullable(shownFiles.get(name)).ifPresent(f -> {
            String[] text = f.text().split("\n", -1);
            for (int i = 0; i < text.length; i++) {
                lines.add(new Line(i + 1, text[i], f.places().getOrDefault(i + 1, "")));
            }
        });
        code.getItems().setAll(lines);
    }

    /** Shows the first line that comes from a block. */
    void showPlace(String place) {
        for (var shownFile : shownFiles.entrySet()) {
            var f = shownFile.getValue();
            var line = f.places().entrySet().stream().filter(e -> e.getValue().equals(place) && f.name().endsWith(".c"))
                    .mapToInt(java.util.Map.Entry::getKey).min();
            if (line.isPresent()) {
                files.setValue(shownFile.getKey());
                code.getSelectionModel().select(line.getAsInt() - 1);
                code.scrollTo(Math.max(0, line.getAsInt() - 6));
                return;
            }
        }
    }

    private void jump() {
        var l = code.getSelectionModel().getSelectedItem();
        if (l != null) {
            host.show(Place.sheet(l.place()));
        }
    }

    private static final class CodeCell extends ListCell<Line> {
        @Override
        protected void updateItem(Line line, boolean empty) {
            super.updateItem(line, empty);
            if (empty || line == null) {
                setGraphic(null);
                return;
            }
            var number = new Label(String.format("%4d", line.number()));
            number.getStyleClass().addAll("mono", "faint");
            number.setMinWidth(38);
            var text = new Label(line.text().replace("\t", "    "));
            text.getStyleClass().add("mono");
            if (line.text().strip().startsWith("/*") || line.text().strip().startsWith("*")) {
                text.getStyleClass().add("faint");
            }
            setGraphic(new HBox(8, number, text));
            setStyle("-fx-padding: 0 6 0 6;");
        }
    }
}
