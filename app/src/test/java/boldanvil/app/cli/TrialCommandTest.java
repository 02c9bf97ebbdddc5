package boldanvil.app.cli;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import tools.jackson.databind.json.JsonMapper;

@Timeout(240)
class TrialCommandTest extends CommandFixture {
    private String motor;

    @BeforeEach
    void copy() throws IOException {
        motor = Demo.copyTo(folder.resolve("motor"), "motor-position").toString();
    }

    private void write(String name, String text) throws IOException {
        Files.writeString(Path.of(motor, "trials", name), text);
    }

    @Test
    void everyTrialOfEveryDemoPassesOnTheFirstRigItNames() {
        assertThat(run("trial", "../demo")).as(out).isZero();
        assertThat(out).contains("Larkmere Lock · paddle-follows on desk, 7 of 7 expectations",
                "Larkmere workboat · thruster-fails on desk");
    }

    @Test
    void verdictsSetTheExitStatus() throws IOException {
        assertThat(run("trial", motor)).isZero();
        write("fails.trial", "rigs desk\ntags own\nexpect controller.measured > 100 rad   [X-1]\n");
        assertThat(run("trial", motor, "--tag", "own")).isEqualTo(1);
        assertThat(out).contains("failed", "line 3: expect controller.measured > 100 rad: controller.measured = ");
        write("asks.trial", "rigs desk\ntags asks\nask \"Does it turn?\"\nexpect controller.measured < 100 rad\n");
        assertThat(run("trial", motor + "/trials/asks.trial")).isEqualTo(1);
        assertThat(out).contains("open");
        assertThat(run("trial", motor + "/trials/asks.trial", "--answer", "Does it turn?=yes")).isZero();
        assertThat(run("trial", motor + "/trials/asks.trial", "--answer", "Does it turn?=maybe")).isEqualTo(2);
        write("wrong.trial", "rigs desk\nexpect nothing.here > 1\n");
        assertThat(run("trial", motor)).isEqualTo(2);
        assertThat(out).contains("'nothing.here' is neither a signal");
        assertThat(run("trial", motor, "--list")).isEqualTo(2);
    }

    @Test
    void coverageIsWrittenForBlocksAndStandsInTheReports() throws IOException {
        assertThat(run("trial", motor, "--rig", "desk", "--coverage", file("c.csv"), "--html", file("c.html"))).isZero();
        assertThat(out).contains("coverage of controller: outcomes ");
        assertThat(Path.of(file("c.csv"))).content().startsWith("Block,Outcomes,Condition values,Effects,Table entries,Not seen")
                .contains("controller/");
        assertThat(Path.of(file("c.html"))).content().contains("<h2>Coverage</h2>");
    }

    @Test
    void theBoatKeepsItsCourseForEveryCombination() {
        assertThat(run("trial", "../demo/workboat/trials/heading-drops-out.trial")).as(out).isZero();
        assertThat(out).contains("102 of 102 expectations");
    }

    @Test
    void reportsAreWrittenForPeopleAndForBuildServers() throws IOException {
        write("requirements.csv", "id,text\nMP-1,follows\nMP-2,is quiet\n");
        assertThat(run("trial", motor, "--rig", "all", "--junit", file("junit"), "--html", file("t.html"), "--pdf", file("t.pdf"),
                "--matrix",
                file("m.csv"))).isZero();
        assertThat(Path.of(file("junit"), "TEST-Motor_position.angle-follows.code.xml")).isRegularFile();
        assertThat(Path.of(file("t.html"))).content().contains("not covered", "angle-follows on code");
        assertThat(Path.of(file("t.pdf"))).isNotEmptyFile();
        assertThat(Path.of(file("m.csv"))).content().contains("MP-1,follows,passed,passed,angle-follows", "MP-2,is quiet,not covered");
        assertThat(run("trial", motor, "--junit", file("all.xml"))).isZero();
        assertThat(Path.of(file("all.xml"))).content().startsWith("<?xml").contains("<testsuites>", "angle-follows.desk");
        assertThat(run("trial", motor, "--json")).isZero();
        assertThat(new JsonMapper().readTree(out).get(0).path("verdict").asString()).isEqualTo("passed");
    }

    @Test
    void whatIsNotThereIsSaid() {
        assertThat(run("trial", file("nowhere"))).isEqualTo(2);
        assertThat(err).contains("There is no such project or trial.");
        assertThat(run("trial", motor, "--tag", "none")).isEqualTo(2);
        assertThat(err).contains("There is no trial to run.");
    }

    @Test
    void shardsOfASweepMergeToTheWhole() throws IOException {
        String[] whole = {"sweep", motor, "--rig", "desk", "--for", "50 ms", "--vary", "controller.target=normal(1 rad, 0.1 rad)", "--vary",
            "motor.load_torque=-0.02:0.02", "--correlate", "controller.target,motor.load_torque=0.5", "--method", "sobol", "--sample", "7"};
        for (int k = 1; k <= 3; k++) {
            assertThat(run(with(whole, "--shard", k + "/3", "--out", file("s" + k)))).as(err).isZero();
        }
        assertThat(run(with(whole, "--shard", "1/1", "--out", file("all")))).isZero();
        assertThat(run("merge", file("s3"), file("s1"), file("s2"), "--out", file("merged"))).as(err).isZero();
        assertThat(run("merge", file("all"))).isZero();
        assertThat(Files.readString(Path.of(file("merged")))).isEqualTo(out);
        assertThat(out.lines()).hasSize(8);
        assertThat(run("merge", file("s1"), file("s2"))).isEqualTo(2);
        assertThat(err).contains("the first missing one is 3");
        assertThat(run(with(whole, "--shard", "4/3"))).isEqualTo(2);
        assertThat(run("sweep", motor, "--rig", "desk", "--for", "1 ms", "--vary", "controller.target=1:2", "--method", "dice", "--sample",
                "3")).isEqualTo(2);
        assertThat(err).contains("There is no sampling 'dice'");
    }

    @Test
    void aTrialIsRunWithManyValues() throws IOException {
        write("reach.trial", "rigs desk\nlimit 2 s\nwait 1 s\nexpect controller.measured between 0.9 rad and 1.6 rad\n");
        assertThat(run("trial", motor + "/trials/reach.trial", "--vary", "controller.target=[0.5, 1.2, 1.5, 2]", "--out", file("v.csv")))
                .isEqualTo(1);
        assertThat(err).contains("2 of 4 runs passed");
        assertThat(Files.readAllLines(Path.of(file("v.csv")))).satisfiesExactly(h -> assertThat(h).isEqualTo(
                "controller.target,verdict,first failure"), l -> assertThat(l).startsWith("0.5,failed,"), l -> assertThat(l).isEqualTo(
                "1.2,passed,"), l -> assertThat(l).isEqualTo("1.5,passed,"), l -> assertThat(l).startsWith("2.0,failed,"));
        assertThat(run("trial", motor, "--rig", "all", "--vary", "controller.target=[1]")).isEqualTo(2);
        assertThat(err).contains("but values vary for one");
    }

    private static String[] with(String[] first, String... more) {
        return java.util.stream.Stream.concat(java.util.Arrays.stream(first), java.util.Arrays.stream(more)).toArray(String[]::new);
    }
}
