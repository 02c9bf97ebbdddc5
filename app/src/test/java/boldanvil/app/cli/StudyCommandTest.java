package boldanvil.app.cli;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.transfer.StudyFile;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(240)
class StudyCommandTest extends CommandFixture {
    private static final String MOTOR = "../demo/motor-position";

    private int sweep(String... more) {
        String[] all = new String[6 + more.length];
        System.arraycopy(new String[] {"sweep", MOTOR, "--rig", "desk", "--for", "1s"}, 0, all, 0, 6);
        System.arraycopy(more, 0, all, 6, more.length);
        return run(all);
    }

    @Test
    void indicesOfSensitivityArePrintedAndRunsAreWritten() {
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "48", "--sensitivity", "--out", file("runs.h5"))).as(err)
                .isZero();
        assertThat(out).startsWith("result,value,first order,from,to,total,from,to").contains(",controller.target,");
        var read = StudyFile.read(Path.of(file("runs.h5")));
        assertThat(read.table().size()).isEqualTo(48);
        assertThat(read.table().columns().getFirst().unit()).isEqualTo("rad");
        assertThat(read.about()).containsEntry("way", "SENSITIVITY").containsEntry("rig", "desk");
    }

    @Test
    void aFileSaysHowItsPointsWereChosen() {
        assertThat(sweep("--vary", "controller.target=0.5:1.5:3", "--out", file("grid.h5"))).as(err).isZero();
        assertThat(StudyFile.read(Path.of(file("grid.h5"))).about()).containsEntry("way", "GRID");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "4", "--method", "sobol", "--out", file("sobol.h5"))).as(err)
                .isZero();
        assertThat(StudyFile.read(Path.of(file("sobol.h5"))).about()).containsEntry("way", "SOBOL");
    }

    @Test
    void theWorstCaseIsSearched() {
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "24", "--worst", "greatest controller.measured maximum"))
                .as(err).isZero();
        assertThat(out).contains("controller.measured maximum = ", "controller.target = 1.5");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "24", "--worst", "most controller.measured")).isEqualTo(2);
        assertThat(err).contains("Write 'greatest' or 'least'");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "24", "--worst", "least nothing minimum")).isEqualTo(2);
        assertThat(err).contains("There is no result 'nothing minimum'");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "4", "--worst", "least controller.measured minimum"))
                .isEqualTo(2);
        assertThat(err).contains("needs from 16 to");
    }

    @Test
    void whatDoesNotGoTogetherIsSaid() {
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "24", "--sensitivity", "--shard", "1/2")).isEqualTo(2);
        assertThat(err).contains("--shard");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "24", "--sensitivity", "--method", "sobol")).isEqualTo(2);
        assertThat(err).contains("It chooses its points itself");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "8", "--workers", "127.0.0.1:47500")).isEqualTo(2);
        assertThat(err).contains("Workers need a key");
        assertThat(sweep("--vary", "controller.target=0.5:1.5", "--sample", "8", "--workers", "192.168.4.7:47500", "--key", "none.pem"))
                .isEqualTo(2);
        assertThat(err).contains("Workers on other machines cannot reach 127.0.0.1");
    }

    @Test
    void onlyATargetKeepsALog() {
        assertThat(run("run", MOTOR, "--rig", "desk", "--for", "1ms", "--target-log", "plant=" + file("log.h5"))).isEqualTo(2);
        assertThat(err).contains("No part of this rig runs on a real-time target");
        assertThat(run("run", "../demo/gate-network", "--rig", "hearth", "--for", "5ms", "--pace", "max", "--target-log", "servo="
                + file("log.csv"))).as(err).isZero();
        assertThat(Path.of(file("log.csv"))).content().contains("servo.shaft_speed");
    }
}
