package boldanvil.app.cli;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.model.OtherProcess;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.json.JsonMapper;

@Timeout(120)
class CommandLineTest extends CommandFixture {
    private String demo;

    @BeforeEach
    void copy() throws IOException {
        demo = Demo.copyTo(folder.resolve("lock")).toString();
    }

    @Test
    void theDemoPassesItsCheckWithADoubtAboutASlowBoard() throws IOException {
        assertThat(run("check", demo)).isZero();
        assertThat(out + err).contains("Clinker 16 is too slow").doesNotContain("error:");
        assertThat(run("check", Demo.copyTo(folder.resolve("gate"), "gate-drive").toString(), "--json")).isZero();
        assertThat(out.strip()).isEqualTo("[]");
    }

    @Test
    void aPatchIsCompletedMovedToAnotherBoardAndBack() throws IOException {
        Path patch = Path.of(demo, "boards/patch.json");
        String before = Files.readString(patch);
        Files.writeString(patch, before.replace("\"peripheral\": \"IO.S12\", \"pin\": \"S12\"", "\"peripheral\": \"\", \"pin\": \"\""));
        assertThat(run("patch", demo)).isEqualTo(1);
        assertThat(out).contains("error: patch · controller/fault: The terminal has no peripheral and pin.");
        assertThat(run("patch", demo, "--auto", "--json", "--csv", file("wires.csv"), "--pdf", file("wires.pdf"))).isZero();
        var json = new JsonMapper().readTree(out);
        assertThat(json.path("board").asString()).isEqualTo("swage32");
        assertThat(json.path("terminals").size()).isEqualTo(8);
        assertThat(json.path("terminals").path(7).path("pins").path(0).asString()).isNotEmpty();
        assertThat(json.path("clocks").path("core").path("reached").asDouble()).isEqualTo(168e6);
        assertThat(Files.readAllLines(Path.of(file("wires.csv")))).hasSize(10).first().asString().startsWith("Pin,Position,Side,Terminal");
        try (var pdf = Loader.loadPDF(Path.of(file("wires.pdf")).toFile())) {
            assertThat(new PDFTextStripper().getText(pdf)).contains("Wiring of Paddle controller on Swage 32")
                    .contains("motor encoder, 512 lines");
        }
        String patched = Files.readString(patch);
        assertThat(run("patch", demo, "--board", "clinker16")).isZero();
        assertThat(out).contains("change leg A: T1.A N1 → T0.A R1").contains("resolution 13.04 → 7.229 bits")
                .contains("Clinker 16 is too slow");
        assertThat(run("patch", demo, "--board", "swage32")).isZero();
        assertThat(Files.readString(patch)).isEqualTo(patched);
        assertThat(run("patch", demo, "--clock", "core=84MHz")).isZero();
        assertThat(out).contains("clock core         asked  84.000000 MHz, reached  84.000000 MHz");
        assertThat(run("patch", demo, "--part", "moon")).isEqualTo(2);
        assertThat(err).contains("no part 'moon'");
        assertThat(run("patch", demo, "--board", "abacus")).isEqualTo(2);
    }

    @Test
    void aSlowBoardMissesStepsWhenItIsDeployedAnyway() throws IOException {
        assertThat(run("run", demo, "--rig", "clinker", "--for", "0.4s", "--json")).isZero();
        var json = new JsonMapper().readTree(out);
        // 354 of 100 µs: about seven steps in ten are missed.
        assertThat(json.path("overruns").asInt()).isBetween(2_000, 3_600);
        assertThat(json.path("findings").toString()).contains("Clinker 16 is too slow: it missed");
    }

    @Test
    void aRigIsDeployedFoundTakenUpAndEnded() {
        String before = System.getProperty(DeviceRegistry.FOLDER);
        System.setProperty(DeviceRegistry.FOLDER, file("devices"));
        try {
            assertThat(run("devices")).isZero();
            assertThat(out).contains("No device responds");
            assertThat(run("deploy", demo, "--rig", "swage", "--fault", "controller=brown-out")).isEqualTo(2);
            assertThat(err).contains("rig swage · controller: The device stopped responding");
            assertThat(run("deploy", demo, "--rig", "swage", "--fault", "controller=moths")).isEqualTo(2);
            assertThat(run("deploy", demo, "--rig", "desk")).isEqualTo(2);
            assertThat(run("deploy", demo, "--rig", "swage", "--standalone", "--json")).isZero();
            long process = new JsonMapper().readTree(out).path("process").asLong();
            assertThat(process).isPositive();
            assertThat(run("devices", "--json")).isZero();
            var device = new JsonMapper().readTree(out).path(0);
            assertThat(device.path("board").asString()).isEqualTo("swage32");
            assertThat(device.path("running").asBoolean()).isTrue();
            assertThat(run("run", demo, "--rig", "swage", "--attach", "--for", "0.1s", "--record", file("more.csv"))).isZero();
            assertThat(Path.of(file("more.csv"))).isNotEmptyFile();
            assertThat(run("devices", "--reset", Long.toString(process))).isZero();
            assertThat(run("devices", "--stop", Long.toString(process))).isZero();
            assertThat(run("devices", "--stop", "1")).isEqualTo(2);
            assertThat(run("run", demo, "--rig", "code", "--attach", "--for", "0.1s")).isEqualTo(2);
            assertThat(err).contains("not running standalone");
        } finally {
            DeviceRegistry.entries().forEach(e -> ProcessHandle.of(e.pid()).ifPresent(ProcessHandle::destroyForcibly));
            if (before == null) {
                System.clearProperty(DeviceRegistry.FOLDER);
            } else {
                System.setProperty(DeviceRegistry.FOLDER, before);
            }
        }
    }

    /** The small motor's values from a run of it, with values to begin with that are wrong. */
    @Test
    void aMotorIsIdentifiedFromItsRun() throws IOException {
        String motor = Demo.copyTo(folder.resolve("motor"), "motor-position").toString();
        String record = file("motor.csv");
        assertThat(run("run", motor, "--rig", "desk", "--for", "2s", "--record", record, "--set", "controller.target=-2@800ms")).isZero();
        Path project = Path.of(motor, "project.json");
        Files.writeString(project, Files.readString(project).replace("2.3 Ω", "4 Ω").replace("1.2e-5 kg", "2e-5 kg"));
        assertThat(run("identify", record, "--project", motor, "--free", "R=1:10", "--free", "J=1e-6:1e-4", "--in",
                "controller.drive_voltage",
                "--out", "motor.shaft_speed", "--out", "motor.armature_current", "--least-fit", "0.99", "--write")).isZero();
        assertThat(out).contains("± 95 %", "fit of motor.shaft_speed");
        String written = Files.readString(project);
        assertThat(written).contains("\"2.3 Ω\"", "\"0.000012 kg·m²\"", "armature resistance; identified from motor.csv, ± ");
        assertThat(run("identify", record, "--in", "controller.drive_voltage", "--out", "motor.shaft_speed", "--model", "oe:2,2,1",
                "--json"))
                .isZero();
        assertThat(out).contains("\"poles\":", "\"whiteProbability\":");
        assertThat(run("identify", record, "--in", "controller.drive_voltage", "--out", "motor.shaft_speed", "--model", "first",
                "--least-fit",
                "0.9999")).isEqualTo(1);
        assertThat(out).contains("T1", "gain at rest");
        assertThat(run("identify", record, "--in", "controller.drive_voltage", "--out", "motor.shaft_speed", "--model", "response:4"))
                .isZero();
        assertThat(out).contains("coherence");
        assertThat(run("identify", record, "--in", "controller.drive_voltage", "--out", "motor.shaft_speed", "--model", "states:2"))
                .isZero();
        assertThat(run("identify", record, "--in", "controller.drive_voltage", "--out", "motor.shaft_speed", "--model", "magic"))
                .isEqualTo(2);
        assertThat(err).contains("'magic' is not a model");
        assertThat(run("identify", record, "--out", "motor.shaft_speed")).isEqualTo(2);
        assertThat(run("identify", record, "--free", "R=1", "--out", "motor.shaft_speed", "--project", motor)).isEqualTo(2);
        assertThat(err).contains("has no limits");
    }

    @Test
    void aLoopIsHeldAgainstItsMargins() throws IOException {
        String lock = Demo.copyTo(folder.resolve("loop")).toString();
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--phase-margin", "60"))
                .isZero();
        assertThat(out).contains("phase margin", "modes of the closed loop", "rad/s");
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--phase-margin", "110",
                "--json")).isEqualTo(1);
        assertThat(out).contains("\"phaseMarginDegrees\":", "\"stable\":true", "The phase margin is below 110");
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--gain", "100"))
                .isEqualTo(1);
        assertThat(out).contains("not stable");
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--vary", "R=0.5:0.7",
                "--random", "2", "--phase-margin", "60")).isZero();
        assertThat(out).contains("Least phase margin of 5 cases");
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--as-built",
                "--phase-margin",
                "60")).isZero();
        assertThat(out).contains("With the delays of the board: ");
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--as-built",
                "--phase-margin",
                "103")).isEqualTo(1);
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--after", "200ms", "--phase-margin", "103"))
                .isZero();
        assertThat(run("loop", lock, "--at", "controller/current loop/current controller", "--vary", "R=0.5")).isEqualTo(2);
        assertThat(run("loop", lock, "--at", "controller/nothing")).isEqualTo(2);
        assertThat(err).contains("There is no block 'controller/nothing'");
    }

    @Test
    void figuresOfAPlantArePrinted() throws IOException {
        String charger = Demo.copyTo(folder.resolve("figures"), "lamp-charger").toString();
        assertThat(run("energy", charger, "--rig", "code", "--from", "1ms", "--to", "5ms")).isZero();
        assertThat(out).contains("stage/battery").contains("stage/panel").doesNotContain("gnd 1").contains("The balance is off by");
        assertThat(run("energy", charger, "--rig", "desk", "--to", "2ms", "--json")).isZero();
        assertThat(out).contains("\"joules\"").contains("\"supplied\"");
        assertThat(run("energy", charger, "--rig", "desk", "--from", "2ms", "--to", "2ms")).isEqualTo(2);
        assertThat(run("step", charger, "--rig", "averaged", "--for", "2ms", "--within", "100")).isZero();
        assertThat(out).contains("keeps µs").contains("deviates most");
        assertThat(run("step", charger, "--rig", "averaged", "--for", "2ms", "--within", "0", "--json")).isEqualTo(1);
        assertThat(out).contains("\"shortestStep\"").contains("\"tableBytes\"");
        assertThat(run("run", charger, "--rig", "averaged", "--settled", "50us", "--for", "1ms")).isZero();
        assertThat(run("run", charger, "--rig", "averaged", "--settled", "30us", "--for", "1ms")).isEqualTo(2);
        assertThat(err).contains("sample time");
        assertThat(run("run", charger, "--rig", "code", "--settled", "50us", "--for", "1ms")).isEqualTo(2);
        assertThat(err).contains("not all its parts run as models");
    }

    @ParameterizedTest
    @ValueSource(strings = {"gate-drive", "workboat", "paddle-modes", "beacon", "lamp-charger", "gate-network", "lift-platform",
            "shore-plants", "paddle-network", "level-hold", "lock-sequence"})
    void theOtherDemosPassTheirCheckAndRunAlikeAsModelAndAsCode(String name) throws IOException {
        String project = Demo.copyTo(folder.resolve(name), name).toString();
        assertThat(run("check", project)).isZero();
        String seconds = switch (name) {
            case "workboat" -> "35s";
            case "gate-drive" -> "0.3s";
            case "lamp-charger", "gate-network" -> "0.06s";
            case "shore-plants" -> "0.5s";
            default -> "4s";
        };
        assertThat(run("run", project, "--rig", "desk", "--for", seconds, "--record", file("desk.csv"))).isZero();
        assertThat(run("run", project, "--rig", "code", "--for", seconds, "--record", file("code.csv"))).isZero();
        assertThat(run("compare", file("desk.csv"), file("code.csv"))).isZero();
        assertThat(out).contains("No deviation at all.");
        assertThat(run("generate", project, "--rig", "code", "--out", file("c-" + name))).isZero();
        assertThat(out).contains(".c").contains(".md");
    }

    @Test
    void theBeaconBlinksInOppositionOnClinker16AndNoticesThatItsWireIsCut() throws IOException {
        String project = Demo.copyTo(folder.resolve("beacon"), "beacon").toString();
        for (String rig : new String[] {"desk", "clinker"}) {
            assertThat(run("run", project, "--rig", rig, "--for", "2s", "--pace", "max", "--set", "lamps.blinks_per_second=2Hz@0s",
                    "--set", "mast.wire_whole=0@1.05s",
                    "--record", file(rig + ".csv"))).isZero();
        }
        assertThat(run("compare", file("desk.csv"), file("clinker.csv"))).isZero();
        assertThat(out).contains("No deviation at all.");
        var data = boldanvil.core.transfer.RunCsv.read(Path.of(file("clinker.csv")));
        double[] a = data.find("mast.lamp_A").orElseThrow().values();
        double[] b = data.find("mast.lamp_B").orElseThrow().values();
        int changes = 0;
        for (int i = 2; i < a.length; i++) {
            assertThat(a[i] + b[i]).isEqualTo(1);
            changes += a[i] != a[i - 1] ? 1 : 0;
        }
        assertThat(changes).isEqualTo(7);
        var alarm = data.find("lamps.alarm").orElseThrow();
        assertThat(alarm.at(1.05)).isZero();
        assertThat(alarm.at(1.08)).isEqualTo(1);
    }

    @Test
    void theGateDriveTracksItsSpeedStepsWithNoCurrentInD() throws IOException {
        String project = Demo.copyTo(folder.resolve("gate"), "gate-drive").toString();
        assertThat(run("run", project, "--rig", "desk", "--for", "1.6s", "--record", file("run.csv"))).isZero();
        var data = boldanvil.core.transfer.RunCsv.read(Path.of(file("run.csv")));
        var speed = data.find("controller.speed_loop.speed").orElseThrow();
        assertThat(speed.at(0.55)).isCloseTo(0.8, org.assertj.core.api.Assertions.within(1e-4));
        assertThat(speed.at(1.05)).isCloseTo(0.2, org.assertj.core.api.Assertions.within(1e-4));
        assertThat(speed.at(1.5)).isCloseTo(0.6, org.assertj.core.api.Assertions.within(1e-4));
        assertThat(data.find("controller.id").orElseThrow().values()).hasSizeGreaterThan(30_000);
        for (double id : data.find("controller.id").orElseThrow().values()) {
            assertThat(Math.abs(id)).isLessThan(0.1);
        }
    }

    @Test
    void aSweepWritesOneLineForEachPoint() throws IOException {
        assertThat(run("sweep", demo, "--rig", "desk", "--for", "0.3s", "--vary", "Kp_x=6:18:3", "--vary",
                "controller.position_loop.target=[0.1, 0.2]", "--out",
                file("sweep.csv"))).isZero();
        var lines = Files.readAllLines(Path.of(file("sweep.csv")));
        assertThat(lines).hasSize(7);
        assertThat(lines.getFirst()).startsWith("Kp_x,controller.position_loop.target,").contains("drive.position last [m]");
        assertThat(run("sweep", demo, "--rig", "code", "--for", "1s", "--vary", "Kp_x=[1]")).isEqualTo(2);
        assertThat(err).contains("A sweep runs models");
        assertThat(run("sweep", demo, "--rig", "desk", "--for", "1s", "--vary", "Kp_x")).isEqualTo(2);
    }

    @Test
    void aFindingEndsWithTwoOnStandardError() throws IOException {
        Path f = Path.of(demo, "parts/controller.json");
        Files.writeString(f, Files.readString(f).replace("\"k\": \"0.5\"", "\"k\": \"Kp_nowhere\""));
        assertThat(run("check", demo)).isEqualTo(2);
        assertThat(err).startsWith("error: controller/mean · k: 'Kp_nowhere' is not a variable");
        assertThat(err.lines()).hasSize(1);
        assertThat(out).isEmpty();
        assertThat(run("run", demo, "--rig", "desk", "--for", "1s")).isEqualTo(2);
        assertThat(err).contains("Kp_nowhere");
        assertThat(run("check", demo, "--json")).isEqualTo(2);
        var json = new JsonMapper().readTree(out);
        assertThat(json.path(0).path("place").asString()).isEqualTo("controller/mean · k");
    }

    @ParameterizedTest
    @ValueSource(strings = {"check", "run", "generate", "build", "compare", "open", "blocks"})
    void everyCommandHasItsHelp(String command) {
        assertThat(run(command, "--help")).isZero();
        assertThat(out).contains("Usage: bold-anvil " + command);
    }

    @Test
    void theRootHelpListsAllCommands() {
        assertThat(run("--help")).isZero();
        assertThat(out).contains("check", "run", "generate", "build", "compare", "open");
    }

    @Test
    void wrongWordsEndWithTwo() {
        assertThat(run("dance")).isEqualTo(2);
        assertThat(run("run", demo)).isEqualTo(2);
        assertThat(err).contains("--rig");
        assertThat(run("check", "/no/such/folder")).isEqualTo(2);
        assertThat(err).contains("no project.json");
    }

    @Test
    void runsAreRecordedAndCompared() {
        assertThat(run("run", demo, "--rig", "desk", "--for", "0.5s", "--record", file("desk.csv"))).isZero();
        assertThat(out).contains("0.500 s of simulated time").contains("drive.position");
        assertThat(run("run", demo, "--rig", "code", "--for", "0.5s", "--record", file("code.csv"))).isZero();
        assertThat(run("compare", file("desk.csv"), file("code.csv"))).isZero();
        assertThat(out).contains("No deviation at all.");
        assertThat(run("run", demo, "--rig", "asbuilt", "--for", "0.5s", "--record", file("asbuilt.csv"))).isZero();
        assertThat(run("compare", file("desk.csv"), file("asbuilt.csv"))).isEqualTo(1);
        assertThat(out).contains("The runs deviate.");
        assertThat(run("compare", file("desk.csv"), file("asbuilt.csv"), "--tolerance", "10")).isZero();
        assertThat(run("compare", file("desk.csv"), file("asbuilt.csv"), "--tolerance", "10", "--tolerance", "drive.position=1e-9 mm"))
                .isEqualTo(1);
        assertThat(run("compare", file("desk.csv"), file("asbuilt.csv"), "--tolerance", "ghost=1")).isEqualTo(2);
        assertThat(run("compare", file("desk.csv"), file("code.csv"), "--json")).isZero();
        assertThat(new JsonMapper().readTree(out).path("passes").asBoolean()).isTrue();
    }

    @Test
    void plannedChangesAreMadeAtTheirTime() {
        assertThat(run("run", demo, "--rig", "desk", "--for", "1s", "--json", "--set", "controller.position_loop.target=0 m",
                "--set", "panel.enable=off@0.5s")).isZero();
        var json = new JsonMapper().readTree(out);
        assertThat(json.path("seconds").asDouble()).isEqualTo(1);
        assertThat(json.path("last").path("controller.position_loop.setpoint").asDouble()).isLessThan(0.001);
        assertThat(json.path("overruns").asInt()).isZero();
    }

    @ParameterizedTest
    @ValueSource(strings = {"controller.nothing=1", "ghost.x=1", "panel.enable", "controller.position_loop.target=9 m",
        "panel.enable=maybe", "panel.enable=on@yesterday"})
    void badChangesEndWithTwo(String change) {
        assertThat(run("run", demo, "--rig", "desk", "--for", "1s", "--set", change)).isEqualTo(2);
        assertThat(err).startsWith("error: ");
    }

    @Test
    void badTimesRigsAndTargetsEndWithTwo() {
        assertThat(run("run", demo, "--rig", "moon", "--for", "1s")).isEqualTo(2);
        assertThat(err).contains("desk, code, swage, hearth, clinker, asbuilt");
        assertThat(run("run", demo, "--rig", "desk", "--for", "ages")).isEqualTo(2);
        assertThat(run("run", demo, "--rig", "desk", "--for", "-1s")).isEqualTo(2);
        assertThat(run("run", demo, "--rig", "desk", "--for", "1s", "--record", "/no/such/folder/x.csv")).isEqualTo(2);
        assertThat(err).contains("no folder");
        assertThat(run("compare", file("none.csv"), file("none.csv"))).isEqualTo(2);
    }

    @Test
    void codeIsGeneratedAndBuilt() {
        assertThat(run("generate", demo, "--out", file("gen"))).isZero();
        assertThat(Path.of(file("gen"), "controller", "controller.c")).exists();
        assertThat(Path.of(file("gen"), "controller", "Makefile")).exists();
        assertThat(run("generate", demo, "--rig", "swage", "--out", file("board"))).isZero();
        assertThat(Path.of(file("board"), "controller", "board_io.h")).exists();
        assertThat(run("build", demo, "--rig", "swage")).isZero();
        assertThat(out).contains("SHA-256").doesNotContain("(unchanged)");
        assertThat(run("build", demo, "--rig", "swage")).isZero();
        assertThat(out).contains("(unchanged)");
        assertThat(run("build", demo, "--rig", "swage", "--json")).isZero();
        assertThat(new JsonMapper().readTree(out).path("controller").path("fresh").asBoolean(true)).isFalse();
    }

    @Test
    void aRunIsMeasuredExportedImportedAndListed() throws IOException {
        assertThat(run("run", demo, "--rig", "desk", "--for", "1s", "--record", file("a.h5"))).isZero();
        assertThat(run("measure", file("a.h5"), "--tap", "drive.position", "--from", "500 ms", "--json")).isZero();
        var row = new JsonMapper().readTree(out).get(0);
        assertThat(row.path("maximum").asDouble()).isBetween(0.05, 0.15);
        assertThat(row.path("frequency").isNull()).isTrue();
        for (String name : List.of("b.csv", "b.vcd", "b.svg", "b.pdf", "b.h5")) {
            assertThat(run("export", file("a.h5"), file(name), "--tap", "drive.position", "--to", "500 ms")).as(name + err).isZero();
            assertThat(Files.size(Path.of(file(name)))).isPositive();
        }
        assertThat(run("compare", file("b.csv"), file("b.h5"))).isZero();
        assertThat(out).contains("No deviation at all");
        assertThat(run("export", file("a.h5"), file("c.csv"), "--tap", "drive.none")).isEqualTo(2);
        assertThat(err).contains("no tap 'drive.none'").contains("drive.position");
        assertThat(run("import", file("b.csv"), demo)).isZero();
        assertThat(out).contains("time [s]   (the time)").contains("drive.position [m]");
        assertThat(run("import", file("b.csv"), demo, "--map", "drive.position [m]=old.position[m]*1000")).as(err).isZero();
        assertThat(run("import", file("b.csv"), demo, "--map", "nonsense")).isEqualTo(2);
        assertThat(run("runs", demo, "--find", "b.csv")).isZero();
        assertThat(out).contains("imported").contains("b.csv");
        assertThat(run("runs", demo, "--json")).isZero();
        assertThat(new JsonMapper().readTree(out).get(0).path("note").path("name").asString("")).isEqualTo("b.csv");
        assertThat(run("runs", demo, "--find", "nothing like it")).isZero();
        assertThat(out).contains("No runs found");
    }

    @Test
    void stepsOfTheGateDriveAreMeasured() throws IOException {
        String gate = Demo.copyTo(folder.resolve("gate"), "gate-drive").toString();
        assertThat(run("run", gate, "--rig", "desk", "--for", "1.8s", "--record", file("g.h5"))).isZero();
        assertThat(run("measure", file("g.h5"), "--steps", "controller.speed_loop.speed_demand=controller.speed_loop.speed", "--json"))
                .isZero();
        var rows = new JsonMapper().readTree(out);
        assertThat(rows.size()).isEqualTo(3);
        assertThat(rows.get(2).path("to").asDouble()).isCloseTo(0.6, org.assertj.core.api.Assertions.within(1e-4));
        assertThat(rows.get(2).path("riseTime").asDouble()).isBetween(0.02, 0.1);
        assertThat(run("measure", file("g.h5"), "--tap", "controller.iq")).isZero();
        assertThat(out).contains("controller.iq").contains("rippleRms");
    }

    @ParameterizedTest
    @ValueSource(strings = {"core=abc", "core=3 m", "core=900 GHz", "moon=1 MHz", "source=sun"})
    void aClockThatCannotBeIsNotSaved(String clock) throws IOException {
        String before = Files.readString(Path.of(demo, "boards/patch.json"));
        assertThat(run("patch", demo, "--clock", clock)).isEqualTo(2);
        assertThat(err).contains("error:");
        assertThat(Files.readString(Path.of(demo, "boards/patch.json"))).isEqualTo(before);
    }

    @Test
    void aClockThatCanBeIsSaved() throws IOException {
        assertThat(run("patch", demo, "--clock", "core=84 MHz")).isLessThan(2);
        assertThat(Files.readString(Path.of(demo, "boards/patch.json"))).contains("84 MHz");
    }

    @ParameterizedTest
    @ValueSource(strings = {"/", "run.txt", "none/run.csv"})
    void aRecordingThatCannotBeWrittenIsRefusedBeforeTheRun(String to) {
        assertThat(run("run", demo, "--rig", "desk", "--for", "0.01 s", "--record", to.equals("/") ? to : file(to))).isEqualTo(2);
        assertThat(err).contains("error:");
    }

    @ParameterizedTest
    @ValueSource(strings = {"1m", "3 A", "5 mm", "nonsense"})
    void aTimeOfAnotherKindIsRefused(String time) {
        assertThat(run("run", demo, "--rig", "desk", "--for", time)).isEqualTo(2);
    }

    private String project(String name, PartBuilder part) {
        Path at = folder.resolve(name);
        ProjectWriter.write(Project.empty(name).withParts(List.of(part.part()))
                .withRigs(List.of(new Rig("desk", "here", Rig.Terminals.IDEAL, java.util.Map.of()))), at);
        return at.toString();
    }

    @Test
    void aRunWithAFaultIsAnErrorWithItsBlockAndInstant() {
        String p = project("root", new PartBuilder("p").sampleTime("1 ms").block("t", "time").block("m", "constant", "value=0.01")
                .block("d", "sum", "signs=+-").block("r", "function", "f=sqrt")
                .block("x", "tap").wire("m.y", "d.u1").wire("t.y", "d.u2").wire("d.y", "r.u").wire("r.y", "x.u"));
        assertThat(run("check", p)).as("%s", out + err).isZero();
        assertThat(run("run", p, "--rig", "desk", "--for", "0.05 s")).isEqualTo(1);
        assertThat(out + err).contains("error: p/r").contains("0.011 s");
    }

    @Test
    void samplesThatAreMissingAreADeviation() throws IOException {
        var a = new StringBuilder("time [s],p.x [m]\n");
        var b = new StringBuilder("time [s],p.x [m]\n");
        for (int i = 0; i < 1_000; i++) {
            a.append(i * 1e-3).append(",1\n");
            b.append(i < 300 ? i * 1e-3 + ",1\n" : "");
        }
        Files.writeString(Path.of(file("a.csv")), a);
        Files.writeString(Path.of(file("b.csv")), b);
        assertThat(run("compare", file("a.csv"), file("b.csv"))).isEqualTo(1);
        assertThat(out).as("but for the one at the end, where runs may end half a step apart").contains("699 samples not in both runs");
        assertThat(run("compare", file("a.csv"), file("a.csv"))).isZero();
    }

    @Test
    void aProjectThatAWindowHasIsNotWrittenByACommand() throws IOException {
        String before = Files.readString(Path.of(demo, "boards/patch.json"));
        try (var window = new OtherProcess(Path.of(demo))) {
            assertThat(run("patch", demo, "--clock", "core=84 MHz")).isEqualTo(2);
            assertThat(err).contains("the other, process " + window.pid()).contains("nothing was saved");
            assertThat(run("check", demo)).as("it may be read").isZero();
        }
        assertThat(Files.readString(Path.of(demo, "boards/patch.json"))).isEqualTo(before);
        assertThat(run("patch", demo, "--clock", "core=84 MHz")).isLessThan(2);
    }

    @Test
    void whatIsRecordedCarriesItsUnitThroughEveryFile() throws IOException {
        String p = project("spin", new PartBuilder("p").sampleTime("1 ms").block("w", "constant", "value=1500 rpm")
                .block("speed", "tap", "unit=rpm").wire("w.y", "speed.u"));
        assertThat(run("check", p)).as("%s", out + err).isZero();
        for (String ending : List.of("csv", "h5")) {
            assertThat(run("run", p, "--rig", "desk", "--for", "0.01 s", "--record", file("spin." + ending))).as("%s", out + err).isZero();
        }
        assertThat(Files.readAllLines(Path.of(file("spin.csv")))).first().asString().isEqualTo("time [s],p.speed [rpm]");
        assertThat(Double.parseDouble(Files.readAllLines(Path.of(file("spin.csv"))).get(1).split(",")[1]))
                .isCloseTo(1500, org.assertj.core.api.Assertions.within(1e-9));
        assertThat(run("compare", file("spin.csv"), file("spin.h5"), "--tolerance", "p.speed=1e-9 rpm")).as("%s", out + err).isZero();
    }

    @Test
    void diagnosticsNameVersionMachineAndTools() {
        // Its log may show exceptions of other tests.
        var printed = new StringWriter();
        assertThat(CommandLineMain.execute(new PrintWriter(printed), new PrintWriter(printed), "diagnostics")).isZero();
        assertThat(printed.toString()).contains("Bold Anvil 0.1.0", "Java ", "Processors", "gcc ", "State");
    }

    @Test
    void aFormatThatDoesNotExistIsAFindingWithThoseThatDo() {
        assertThat(run("generate", demo, "--format", "moon", "--out", file("code"))).isEqualTo(2);
        assertThat(err).contains("There is no format 'moon'. Formats are: c, st, plcopen.");
    }
}
