package boldanvil.core.control;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.link.xcp.XcpAccess;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DeviceRegistryTest {
    @TempDir
    private Path folder;

    private String before;

    @BeforeEach
    void ownFolder() {
        before = System.getProperty(DeviceRegistry.FOLDER);
        System.setProperty(DeviceRegistry.FOLDER, folder.resolve("devices").toString());
    }

    @AfterEach
    void commonFolder() {
        if (before == null) {
            System.clearProperty(DeviceRegistry.FOLDER);
        } else {
            System.setProperty(DeviceRegistry.FOLDER, before);
        }
    }

    private static long deadProcess() throws IOException {
        var p = new ProcessBuilder("true").start();
        p.onExit().join();
        return p.pid();
    }

    @Test
    void anEntryIsForThisUserAlone() throws IOException {
        long pid = ProcessHandle.current().pid();
        DeviceRegistry.enter(new DeviceRegistry.Entry(pid, 1234, "token"));
        Path file = folder.resolve("devices").resolve(pid + ".json");
        assertThat(Files.getPosixFilePermissions(file)).containsExactlyInAnyOrder(PosixFilePermission.OWNER_READ,
                PosixFilePermission.OWNER_WRITE);
        assertThat(DeviceRegistry.entries()).containsExactly(new DeviceRegistry.Entry(pid, 1234, "token"));
        Files.delete(file);
    }

    @Test
    void whatDeadProcessesLeftIsRemovedByTheNext() throws IOException {
        Path devices = Files.createDirectories(folder.resolve("devices"));
        long dead = deadProcess();
        long pid = ProcessHandle.current().pid();
        Files.writeString(devices.resolve(dead + ".json"), "{\"pid\": " + dead + ", \"port\": 1, \"token\": \"x\"}");
        Files.writeString(devices.resolve(dead + ".tmp"), "{");
        Files.writeString(devices.resolve("new123.tmp"), "{");
        Files.writeString(devices.resolve("odd.json"), "no entry");
        DeviceRegistry.enter(new DeviceRegistry.Entry(pid, 1, "t"));
        try (var left = Files.list(devices)) {
            assertThat(left.map(f -> f.getFileName().toString())).containsExactly(pid + ".json");
        }
        Files.delete(devices.resolve(pid + ".json"));
    }

    @Test
    void keysDependOnTokenResourceAndSeed() {
        byte[] seed = new byte[XcpAccess.SEED_BYTES];
        byte[] key = XcpAccess.key("token", XcpAccess.CALIBRATION, seed);
        assertThat(key).hasSize(32).isEqualTo(XcpAccess.key("token", XcpAccess.CALIBRATION, seed));
        assertThat(XcpAccess.key("other", XcpAccess.CALIBRATION, seed)).isNotEqualTo(key);
        assertThat(XcpAccess.key("token", XcpAccess.MEASUREMENT, seed)).isNotEqualTo(key);
        seed[0] = 1;
        assertThat(XcpAccess.key("token", XcpAccess.CALIBRATION, seed)).isNotEqualTo(key);
    }
}
