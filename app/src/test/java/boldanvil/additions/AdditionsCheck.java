package boldanvil.additions;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.cli.CommandLineMain;
import boldanvil.app.shell.Shell;
import boldanvil.app.widget.Theme;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.transfer.RunImport;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import javafx.scene.Scene;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.stage.Stage;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.ApplicationExtension;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/**
 * What docs/architecture.md says about additions: one of each kind, added through the places named there alone, works in simulation, on a
 * device, on the command line and in the window. Runs apart from the other tests, with {@code src/test/additions} on its class path.
 */
@ExtendWith(ApplicationExtension.class)
@Timeout(120)
class AdditionsCheck {
    @TempDir
    static Path temporary;

    private static int count;

    private Path folder;
    private Shell shell;
    private StringWriter out;

    @Start
    void begin(Stage stage) throws IOException {
        System.setProperty(DeviceRegistry.FOLDER, temporary.resolve("devices").toString());
        folder = Demo.copyTo(temporary.resolve("beacon" + count++), "beacon");
        edit("parts/lamps.json", "\"digital out\", \"name\": \"lamp A\"", "\"relay out\", \"name\": \"lamp A\"");
        edit("parts/lamps.json", "{\"id\": \"b14\"", """
                {"id": "b20", "type": "twice", "name": "doubled", "at": [190, 200]},
                      {"id": "b21", "type": "tap", "name": "twice the rate", "at": [380, 200]},
                      {"id": "b14\"""");
        edit("parts/lamps.json", "{\"from\": \"b2.y\"",
                "{\"from\": \"b1.y\", \"to\": \"b20.u\"},\n      {\"from\": \"b20.y\", \"to\": \"b21.u\"},\n      {\"from\": \"b2.y\"");
        try (var board = Shell.class.getResourceAsStream("/boldanvil/core/board/clinker16.json")) {
            String text = new String(board.readAllBytes(), StandardCharsets.UTF_8);
            Files.writeString(folder.resolve("boards/pebble16.json"), text.replace("\"clinker16\"", "\"pebble16\"")
                    .replace("\"Clinker 16\"", "\"Pebble 16\""));
        }
        edit("boards/patch.json", "clinker16", "pebble16");
        edit("project.json", "device clinker16", "device pebble16");
        Theme.loadFonts();
        shell = new Shell();
        stage.setScene(new Scene(shell, 1280, 800));
        stage.show();
        shell.open(folder);
    }

    @BeforeEach
    void fresh() {
        out = new StringWriter();
    }

    @AfterEach
    void close() {
        WaitForAsyncUtils.asyncFx(shell::close);
        WaitForAsyncUtils.waitForFxEvents();
    }

    private void edit(String file, String before, String after) throws IOException {
        String text = Files.readString(folder.resolve(file));
        assertThat(text).contains(before);
        Files.writeString(folder.resolve(file), text.replace(before, after));
    }

    private int run(String... args) {
        return CommandLineMain.execute(new PrintWriter(out), new PrintWriter(out), args);
    }

    private double[] record(String rig, String tap) {
        Path file = temporary.resolve(rig + ".csv");
        assertThat(run("run", folder.toString(), "--rig", rig, "--for", "0.9s", "--pace", "max", "--record", file.toString()))
                .as(out.toString()).isZero();
        try (var samples = RunImport.open(file)) {
            return samples.series(samples.indexOf(tap)).values();
        }
    }

    @Test
    void aBlockAndAPeripheralWorkInSimulationAndOnAnAddedBoard() {
        double[] desk = record("desk", "mast.lamp_A");
        assertThat(desk).contains(0, 1);
        assertThat(record("clinker", "mast.lamp_A")).isEqualTo(desk);
        assertThat(record("clinker", "lamps.twice_the_rate")).containsOnly(2);
        assertThat(run("patch", folder.toString(), "--json")).isZero();
        assertThat(out.toString()).contains("\"board\":\"pebble16\"");
    }

    @Test
    void anOutputAndItsExporterAreOfferedOnTheCommandLineAndOnTheBuildPage(FxRobot robot) throws Exception {
        assertThat(run("generate", folder.toString(), "--format", "slots", "--out", temporary.resolve("lists").toString()))
                .as(out.toString()).isZero();
        assertThat(temporary.resolve("lists/lamps/lamps.slots")).content().contains("bool ");
        robot.interact(() -> shell.show("Build"));
        robot.interact(() -> robot.lookup("#rig").<ChoiceBox<String>>query().setValue("clinker"));
        WaitForAsyncUtils.waitFor(40, TimeUnit.SECONDS, () -> robot.lookup("#files").<ChoiceBox<String>>query().getItems()
                .contains("lamps.c"));
        robot.interact(() -> robot.lookup("#format").<ChoiceBox<Object>>query().getSelectionModel().selectLast());
        assertThat(robot.lookup("#files").<ChoiceBox<String>>query().getItems()).containsExactly("lamps.slots");
    }

    @Test
    void aFormatOfRunsIsOfferedByItsEnding() throws IOException {
        Path file = temporary.resolve("run.count");
        assertThat(run("run", folder.toString(), "--rig", "desk", "--for", "10ms", "--record", file.toString())).as(out.toString())
                .isZero();
        assertThat(Integer.parseInt(Files.readString(file))).isPositive();
    }

    @Test
    void aLinkIsFoundByTheNameInItsEndpoint() {
        var at = Endpoint.parse("echo://127.0.0.1:4711");
        try (var link = LinkProtocol.of(at).connect(at, Place.named("a device"), "", null)) {
            assertThat(link.identify().serial()).isEqualTo("4711");
        }
    }

    @Test
    void aPageIsOnTheRail(FxRobot robot) throws Exception {
        WaitForAsyncUtils.waitFor(40, TimeUnit.SECONDS, () -> robot.lookup("#page-hello").tryQuery().isPresent());
        robot.clickOn("#page-hello");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(robot.lookup("#hello").queryAs(Label.class).getText()).isEqualTo("Larkmere beacon");
    }
}
