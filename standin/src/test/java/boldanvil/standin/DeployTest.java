package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpProgrammer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Images are put on stand-ins over XCP; faults are told in time; what runs standalone is found and connected again. */
class DeployTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();
    private static final byte[] IMAGE = new byte[20_000];

    static {
        new Random(1).nextBytes(IMAGE);
    }

    @TempDir
    private Path folder;

    private String before;

    @BeforeEach
    void ownRegistry() {
        before = System.getProperty(DeviceRegistry.FOLDER);
        System.setProperty(DeviceRegistry.FOLDER, folder.resolve("devices").toString());
    }

    @AfterEach
    void endWhatRuns() {
        for (var e : DeviceRegistry.entries()) {
            ProcessHandle.of(e.pid()).ifPresent(ProcessHandle::destroyForcibly);
        }
        if (before == null) {
            System.clearProperty(DeviceRegistry.FOLDER);
        } else {
            System.setProperty(DeviceRegistry.FOLDER, before);
        }
    }

    private static InetSocketAddress at(BootServer s) {
        return new InetSocketAddress(InetAddress.getLoopbackAddress(), s.port());
    }

    @Test
    void anImageIsDownloadedVerifiedAndKept() throws IOException {
        Path kept = folder.resolve("swage.flash");
        var device = new Device(SWAGE, kept);
        try (var server = new BootServer(device, "token"); var p = new XcpProgrammer(Place.named("here"), at(server), "token")) {
            assertThat(p.identify()).isEqualTo(new XcpProgrammer.Identity("swage32", device.serial(), "1.1", "", ""));
            double[] share = {0};
            p.deploy(IMAGE, s -> share[0] = s, () -> false);
            p.verify(IMAGE);
            p.deployed();
            assertThat(share[0]).isEqualTo(1);
            assertThat(device.flash()).isEqualTo(IMAGE);
            device.note("a".repeat(64));
            assertThat(p.identify().image()).isEqualTo("a".repeat(64));
            byte[] other = IMAGE.clone();
            other[77]++;
            assertThatThrownBy(() -> p.verify(other)).isInstanceOf(FindingException.class).hasMessageContaining("Verification failed");
        }
        var later = new Device(SWAGE, kept);
        assertThat(later.flash()).isEqualTo(IMAGE);
        assertThat(later.build()).isEqualTo("a".repeat(64));
    }

    /** Each fault, and a word of its finding. */
    @ParameterizedTest
    @CsvSource({"UNPLUGGED, does not respond", "VERIFY, Verification failed", "BUSY, link is busy", "BROWN_OUT, stopped responding"})
    void aFaultIsToldWithinTwoSecondsAndTheDeviceDoesNotRun(DeviceFault fault, String word) throws IOException {
        var device = new Device(SWAGE);
        device.fault(fault);
        try (var server = new BootServer(device, "token")) {
            long begin = System.nanoTime();
            assertThatThrownBy(() -> {
                try (var p = new XcpProgrammer(Place.named("here"), at(server), "token")) {
                    p.deploy(IMAGE, _ -> { }, () -> false);
                    p.verify(IMAGE);
                }
            }).isInstanceOfSatisfying(FindingException.class, e -> {
                assertThat(e.findings().getFirst().cause()).contains(word);
                assertThat(e.findings().getFirst().cure()).isNotBlank();
            });
            assertThat((System.nanoTime() - begin) / 1e9).isLessThan(2);
            assertThat(device.isRunning()).isFalse();
            if (fault != DeviceFault.VERIFY) {
                assertThat(device.digest()).isEmpty();
            }
            device.fault(DeviceFault.NONE);
            try (var p = new XcpProgrammer(Place.named("here"), at(server), "token")) {
                p.deploy(IMAGE, _ -> { }, () -> false);
                p.verify(IMAGE);
            }
        }
    }

    @Test
    void withoutTheRigsTokenNothingIsWritten() throws IOException {
        var device = new Device(SWAGE);
        try (var server = new BootServer(device, "token")) {
            assertThatThrownBy(() -> new XcpProgrammer(Place.named("here"), at(server), "another")).isInstanceOf(FindingException.class);
            try (var raw = new java.net.Socket(InetAddress.getLoopbackAddress(), server.port())) {
                raw.setSoTimeout(5_000);
                var in = new java.io.DataInputStream(raw.getInputStream());
                for (byte[] command : new byte[][] {{(byte) Xcp.PROGRAM_START}, {(byte) Xcp.PROGRAM_CLEAR, 0, 0, 0, 1, 0, 0, 0},
                        {(byte) Xcp.PROGRAM, 1, 7},
                    {(byte) Xcp.BUILD_CHECKSUM, 0, 0, 0, 1, 0, 0, 0}, {(byte) Xcp.GET_ID, 0}}) {
                    Xcp.write(raw.getOutputStream(), command, 0);
                    assertThat(Xcp.read(in)).containsExactly((byte) Xcp.ERROR, (byte) Xcp.ERR_ACCESS_LOCKED);
                }
                // A master that unlocks nothing is dropped, so that it keeps nobody else out.
                assertThat(raw.getInputStream().read()).isEqualTo(-1);
            }
            assertThat(device.flash()).isEmpty();
            try (var p = new XcpProgrammer(Place.named("here"), at(server), "token")) {
                assertThat(p.identify().board()).isEqualTo("swage32");
            }
        }
    }

    @Test
    void aFlashFileThatThisUserDidNotWriteIsTakenForEmpty() throws IOException {
        Path kept = folder.resolve("foreign.flash");
        byte[] foreign = java.util.Arrays.copyOf("b".repeat(64).getBytes(java.nio.charset.StandardCharsets.US_ASCII), 64 + IMAGE.length);
        System.arraycopy(IMAGE, 0, foreign, 64, IMAGE.length);
        Files.write(kept, foreign);
        assertThat(new Device(SWAGE, kept).digest()).isEmpty();
        var own = new Device(SWAGE, kept);
        own.erase(IMAGE.length);
        own.program(0, IMAGE);
        own.note("c".repeat(64));
        byte[] all = Files.readAllBytes(kept);
        all[all.length - 1] ^= 1;
        Files.write(kept, all);
        assertThat(new Device(SWAGE, kept).digest()).isEmpty();
    }

    @Test
    void whatDoesNotFitOrIsOutOfOrderIsRefused() throws IOException {
        var device = new Device(Boards.shipped().find("clinker16").orElseThrow());
        try (var server = new BootServer(device, "token"); var p = new XcpProgrammer(Place.named("here"), at(server), "token")) {
            assertThatThrownBy(() -> p.deploy(new byte[70_000], _ -> { }, () -> false)).hasMessageContaining("memory is too small")
                    .hasMessageContaining("more flash");
            assertThatThrownBy(() -> p.verify(IMAGE)).hasMessageContaining("out of range");
            assertThatThrownBy(() -> p.deploy(IMAGE, _ -> { }, () -> true)).hasMessageContaining("cancelled");
        }
    }

    @Test
    void nobodyListensAtAll() throws IOException {
        int port;
        try (var server = new BootServer(new Device(SWAGE), "token")) {
            port = server.port();
        }
        assertThatThrownBy(() -> new XcpProgrammer(Place.named("here"), new InetSocketAddress(InetAddress.getLoopbackAddress(), port),
                "token")).hasMessageContaining("does not respond");
    }

    private static Project demo(boolean safe) {
        var p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        return p.withPatch("controller", p.patches().get("controller").withSafeOnLinkLoss(safe));
    }

    private BenchRun start(Project project, Map<String, DeviceFault> faults) {
        return (BenchRun) RigStarter.prepare(project, "swage", new RunOptions(Long.MAX_VALUE, 1, List.of(), folder.resolve("build"),
                faults), Progress.NONE);
    }

    @Test
    void aRigWithAWrongDeviceIsRefusedByName() {
        assertThatThrownBy(() -> start(demo(false), Map.of("controller", DeviceFault.WRONG_IDENTITY)))
                .isInstanceOfSatisfying(FindingException.class, e -> {
            assertThat(e.findings().getFirst().place().text()).isEqualTo("rig swage · controller");
            assertThat(e.findings().getFirst().cause()).contains("is a 'stranger', but the rig needs swage32");
        });
    }

    private static DeviceRegistry.Found found(boolean connected) {
        return await().until(DeviceRegistry::devices, all -> all.size() == 1 && all.getFirst().connected() == connected).getFirst();
    }

    private static void reach(LiveRun run, double seconds) {
        await().atMost(Duration.ofSeconds(20)).until(() -> run.seconds() >= seconds);
    }

    @Test
    void aDeviceGoesOnByItselfAndIsTakenUpAgainWithoutARestart() throws Exception {
        double left;
        try (var run = start(demo(false), Map.of())) {
            run.start();
            reach(run, 0.2);
            run.set("controller.position_loop.target", 0.123);
            assertThat(found(true).running()).isTrue();
            left = run.seconds();
            run.leave();
        }
        var device = found(false);
        assertThat(device.running()).isTrue();
        assertThat(device.board()).isEqualTo("swage32");
        var options = new RunOptions(Long.MAX_VALUE, 1, List.of(), folder.resolve("build"));
        assertThatThrownBy(() -> RigStarter.attach(demo(false), "code", options, device.process()))
                .hasMessageContaining("running the rig 'swage'");
        var changed = demo(false).change("controller", p -> new Part(p.id(), p.title(), p.kind(), "200 us", p.step(), p.solver(), p.real(),
                p.x(), p.y(), p.sheets()));
        assertThatThrownBy(() -> RigStarter.attach(changed, "swage", options, device.process())).hasMessageContaining("older build");
        try (var run = RigStarter.attach(demo(false), "swage", options, device.process())) {
            run.start();
            reach(run, left + 0.1);
            assertThat(run.get("controller.position_loop.target")).isEqualTo(0.123);
            run.reset();
            assertThat(run.get("controller.position_loop.target")).as("as the project says again").isEqualTo(0.4);
            assertThat(run.store().size(0)).isPositive();
            assertThat(run.seconds()).isGreaterThan(left);
            try (var control = device.process().connect(2_000)) {
                control.ask("end", Map.of());
            }
            run.awaitEnd();
        }
        await().until(() -> DeviceRegistry.entries().isEmpty());
    }

    @ParameterizedTest
    @CsvSource({"false, keeps running", "true, goes to its safe state"})
    void whenTheLinkIsLostTheDeviceDoesWhatTheProjectSays(boolean safe, String words) throws Exception {
        try (var run = start(demo(safe), Map.of())) {
            run.start();
            reach(run, 0.1);
            run.cut();
            run.awaitEnd();
            assertThat(run.state()).isEqualTo(LiveRun.State.LOST);
            assertThat(run.findings()).anySatisfy(f -> assertThat(f.cause()).contains("swage32 " + words));
            assertThat(found(false).running()).isEqualTo(!safe);
        }
    }

    @Test
    void anEntryOfAProcessThatIsGoneIsTakenAway() throws IOException {
        Path stale = Files.createDirectories(folder.resolve("devices")).resolve("1.json");
        Files.writeString(stale, "{\"pid\": 999999999, \"port\": 1, \"token\": \"x\"}");
        Files.writeString(stale.resolveSibling("2.json"), "no json");
        assertThat(DeviceRegistry.entries()).isEmpty();
        assertThat(stale).doesNotExist();
    }

    @Test
    void anotherClientMayStopARunningRigButNotPrepareIt() throws Exception {
        try (var run = start(demo(false), Map.of())) {
            run.start();
            reach(run, 0.1);
            try (var other = found(true).process().connect(5_000)) {
                assertThatThrownBy(() -> other.ask("prepare", Map.of())).isInstanceOf(boldanvil.core.finding.FindingException.class);
                other.ask("halt", Map.of());
            }
            run.awaitEnd();
            assertThat(run.state()).isNotEqualTo(LiveRun.State.RUNNING);
        }
    }

    /** Starts a rig and waits to be killed. */
    static final class Abandoned {
        private Abandoned() {}

        public static void main(String[] args) throws InterruptedException {
            var run = RigStarter.prepare(demo(args.length > 1), "swage", new RunOptions(Long.MAX_VALUE, 1, List.of(), Path.of(args[0])),
                    boldanvil.core.bench.Progress.NONE);
            run.start();
            reach(run, 0.05);
            System.out.println("runs");
            Thread.sleep(600_000);
        }
    }

    @Test
    void aStandInEndsWithTheProgramThatStartedIt() throws Exception {
        var p = abandoned(folder.resolve("build").toString());
        assertThat(p.inputReader().readLine()).isEqualTo("runs");
        var children = p.children().toList();
        assertThat(children).isNotEmpty();
        assertThat(DeviceRegistry.entries()).hasSize(1);
        p.destroyForcibly().onExit().join();
        await().atMost(Duration.ofSeconds(20)).until(() -> children.stream().noneMatch(ProcessHandle::isAlive));
        assertThat(DeviceRegistry.entries()).isEmpty();
    }

    private Process abandoned(String... arguments) throws IOException {
        var command = new java.util.ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "--enable-native-access=ALL-UNNAMED",
                "-D" + DeviceRegistry.FOLDER + "=" + folder.resolve("devices"), "-cp", System.getProperty("java.class.path"),
                Abandoned.class.getName()));
        command.addAll(List.of(arguments));
        return new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.INHERIT).start();
    }

    @Test
    void aClientThatFreezesCountsAsALostLink() throws Exception {
        var p = abandoned(folder.resolve("build").toString(), "safe");
        try {
            assertThat(p.inputReader().readLine()).isEqualTo("runs");
            assertThat(found(true).running()).isTrue();
            assertThat(new ProcessBuilder("kill", "-STOP", Long.toString(p.pid())).start().waitFor()).isZero();
            await("the device has gone into its safe state").atMost(Duration.ofSeconds(30)).pollInterval(Duration.ofMillis(200))
                    .until(() -> DeviceRegistry.devices().stream().noneMatch(DeviceRegistry.Found::running));
        } finally {
            p.destroyForcibly().onExit().join();
        }
    }

    @Test
    void stopAllEndsAProcessThatDoesNotObey() throws Exception {
        try (var run = start(demo(false), Map.of())) {
            run.start();
            reach(run, 0.1);
            var process = ProcessHandle.of(DeviceRegistry.entries().getFirst().pid()).orElseThrow();
            assertThat(new ProcessBuilder("kill", "-STOP", Long.toString(process.pid())).start().waitFor()).isZero();
            var halted = Thread.ofPlatform().start(run::halt);
            halted.join(20_000);
            assertThat(halted.isAlive()).isFalse();
            process.onExit().get(10, java.util.concurrent.TimeUnit.SECONDS);
            assertThat(run.state()).isEqualTo(LiveRun.State.LOST);
        }
    }
}
