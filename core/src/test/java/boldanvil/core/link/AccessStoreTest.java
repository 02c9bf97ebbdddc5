package boldanvil.core.link;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class AccessStoreTest {
    private static final Endpoint PLC = Endpoint.parse("opcua://192.168.0.20:4840");
    private static final Access ADA = new Access("ada", "pass\"word", true);

    @TempDir
    private Path folder;

    @Test
    void whatWasTypedIsThereAgainAndReadByNobodyElse() throws Exception {
        var file = folder.resolve("devices.json");
        new AccessStore(Optional.of(file)).put(PLC, ADA);
        var again = new AccessStore(Optional.of(file));
        assertThat(again.find(PLC)).isEqualTo(ADA);
        assertThat(again.find(Endpoint.parse("opcua://192.168.0.21:4840"))).isEqualTo(Access.ANONYMOUS);
        assertThat(Files.getPosixFilePermissions(file)).containsExactlyInAnyOrder(PosixFilePermission.OWNER_READ,
                PosixFilePermission.OWNER_WRITE);
        again.put(PLC, Access.ANONYMOUS);
        assertThat(Files.readString(file)).doesNotContain("ada");
    }

    @Test
    void aFileThatIsBrokenAndAFolderThatIsMissingCostNothingButTheMemory() throws Exception {
        var file = folder.resolve("devices.json");
        Files.writeString(file, "{\"opcua://");
        assertThat(new AccessStore(Optional.of(file)).find(PLC)).isEqualTo(Access.ANONYMOUS);
        var session = new AccessStore(Optional.empty());
        session.put(PLC, ADA);
        assertThat(session.find(PLC)).isEqualTo(ADA);
        var missing = new AccessStore(Optional.of(folder.resolve("none/devices.json")));
        missing.put(PLC, ADA);
        assertThat(missing.find(PLC)).isEqualTo(ADA);
    }
}
