package boldanvil.app.cli;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.bench.PlcProcess;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import tools.jackson.databind.json.JsonMapper;

@Timeout(120)
class TagsCommandTest extends CommandFixture {
    private static final String EMPTY = "{\"format\": 1, \"part\": \"sequence\", \"tags\": [], \"bindings\": {}}";

    @Test
    void tagsAreImportedBoundBrowsedAndExported() throws IOException {
        String lock = Demo.copyTo(folder.resolve("cabinet"), "lock-sequence").toString();
        assertThat(run("tags", lock, "--csv", file("tags.csv"), "--skeleton", file("skeleton.xml"))).isZero();
        assertThat(out).contains("steps of 1 mm, −32768 … 32767 mm").contains("24 of 24 ports have a tag, 27 tags.");
        assertThat(Path.of(file("skeleton.xml"))).content().contains("<project xmlns=\"http://www.plcopen.org/xml/tc6_0201\"");
        Files.writeString(Path.of(lock, "tags/sequence.json"), EMPTY);
        assertThat(run("tags", lock)).isEqualTo(1);
        assertThat(run("tags", lock, "--import", lock + "/tags/sequence.st", "--suggest")).isZero();
        assertThat(out).contains("Y5_Fill").contains("28 tags");
        assertThat(run("tags", lock, "--import", file("tags.csv"), "--json")).isZero();
        assertThat(new JsonMapper().readTree(out).path("tags").asInt()).isEqualTo(28);
        assertThat(run("check", lock)).isZero();
        try (var plc = PlcProcess.start(Map.of())) {
            plc.control().ask("download", Map.of("text", "PROGRAM own VAR lower_open : BOOL; level : REAL; END_VAR ; END_PROGRAM"));
            Files.writeString(Path.of(lock, "tags/sequence.json"),
                    EMPTY);
            assertThat(run("tags", lock, "--browse", plc.opcUa().toString(), "--bind", "{port}")).isEqualTo(1);
            assertThat(out).contains("own.lower_open").contains("2 of 24 ports have a tag, 4 tags.");
            assertThat(run("tags", lock, "--browse", plc.modbus().toString())).isEqualTo(2);
            assertThat(err).contains("The device does not name its tags.");
        }
        assertThat(run("tags", lock, "--import", file("none.csv"))).isEqualTo(2);
        assertThat(run("tags", lock, "--part", "ghost")).isEqualTo(2);
    }
}
