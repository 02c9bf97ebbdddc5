package boldanvil.standin.plc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import boldanvil.core.bench.PlcProcess;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.link.Reading;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.link.opcua.OwnCertificate;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicReferenceArray;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The PLC stand-in as a process of its own, reached over its network. */
class PlcNetworkTest {
    static final String PROGRAM = """
            VAR_GLOBAL
                level AT %MD10 : REAL := 2.5;
                count AT %MW5 : INT;
                open AT %MX2.3 : BOOL;
                sensor AT %IX0.1 : BOOL;
                lamp AT %QX0.0 : BOOL;
                name : STRING[20] := 'upper';
                wait : TIME := T#1500ms;
                big : UDINT := 4000000000;
            END_VAR
            PROGRAM seq
            VAR n : DINT; END_VAR
            n := n + 1;
            lamp := sensor OR open;
            END_PROGRAM
            """;
    private static PlcProcess plc;

    @BeforeAll
    static void start() {
        plc = PlcProcess.start(Map.of());
    }

    @AfterAll
    static void end() {
        plc.close();
    }

    @BeforeEach
    void load() {
        plc.control().ask("fault", Map.of("kind", "none"));
        plc.control().ask("download", Map.of("text", PROGRAM));
        plc.control().ask("run", Map.of());
    }

    private static DeviceLink link(Endpoint at, Access access) {
        return LinkProtocol.of(at).tags(at, Place.named("plc"), access);
    }

    private static Tag tag(String path, TagType type) {
        return new Tag(path, "ns=2;s=" + path, type);
    }

    @Test
    void tagsAreBrowsedReadAndWrittenOverOpcUa() {
        try (var link = link(plc.opcUa(), plc.access())) {
            var tags = link.browse(() -> false);
            assertThat(tags).extracting(Tag::name).contains("level", "seq.n", "name", "device.mode").doesNotContain("scan_time");
            assertThat(tags).filteredOn(t -> t.name().equals("level")).singleElement().satisfies(t -> {
                assertThat(t.type()).isEqualTo(TagType.REAL);
                assertThat(t.comment()).isEqualTo("%MD10");
            });
            link.writeTags(Map.of(tag("level", TagType.REAL), 7.25, tag("count", TagType.INT), -3L, tag("open", TagType.BOOL), true,
                    tag("name", TagType.STRING), "lower gate"));
            var readings = link.readTags(List.of(tag("level", TagType.REAL), tag("count", TagType.INT), tag("open", TagType.BOOL),
                    tag("name", TagType.STRING), tag("wait", TagType.TIME), tag("big", TagType.UDINT)));
            assertThat(readings).allMatch(Reading::isGood);
            assertThat(readings).extracting(Reading::value).containsExactly(7.25, -3L, true, "lower gate", 1.5, 4_000_000_000L);
            await().atMost(Duration.ofSeconds(2)).until(() -> Boolean.TRUE.equals(link.readTags(List.of(tag("lamp", TagType.BOOL)))
                    .getFirst()
                    .value()));
        }
    }

    @Test
    void whatTheDeviceDoesNotTakeIsAFinding() {
        try (var link = link(plc.opcUa(), plc.access())) {
            assertThat(link.readTags(List.of(tag("nothing", TagType.INT))).getFirst().quality()).isEqualTo(Reading.Quality.BAD);
            assertThatThrownBy(() -> link.writeTags(Map.of(tag("level", TagType.INT), 3L))).isInstanceOf(FindingException.class)
                    .hasMessageContaining("Bad_TypeMismatch");
            assertThatThrownBy(() -> link.writeTags(Map.of(tag("count", TagType.INT), 40_000L))).isInstanceOf(FindingException.class);
        }
        try (var link = link(plc.opcUa(), Access.ANONYMOUS)) {
            assertThat(link.readTags(List.of(tag("level", TagType.REAL))).getFirst().isGood()).isTrue();
            assertThatThrownBy(() -> link.writeTags(Map.of(tag("level", TagType.REAL), 3.0))).hasMessageContaining("Bad_UserAccessDenied");
        }
        assertThatThrownBy(() -> link(plc.opcUa(), new Access(PlcProcess.USER, "wrong", false)).close())
                .hasMessageContaining("does not accept the user or the password");
    }

    @Test
    void anEncryptedLinkNeedsATrustedCertificate() throws Exception {
        var secured = new Access(plc.access().user(), plc.access().password(), true);
        assertThatThrownBy(() -> link(plc.opcUa(), secured).close()).hasMessageContaining("does not trust the certificate");
        plc.control().ask("trust", Map.of("certificate", Base64.getEncoder()
                .encodeToString(OwnCertificate.get().certificate().getEncoded())));
        try (var link = link(plc.opcUa(), secured)) {
            link.writeTags(Map.of(tag("level", TagType.REAL), 1.0));
            assertThat(link.readTags(List.of(tag("level", TagType.REAL))).getFirst().value()).isEqualTo(1.0);
        }
    }

    @Test
    void tagsAreReadAndWrittenOverModbus() {
        try (var link = link(plc.modbus(), Access.ANONYMOUS)) {
            var level = new Tag("level", "holding 20 swapped", TagType.REAL);
            var count = new Tag("count", "holding 5", TagType.INT);
            var open = new Tag("open", "coil 19", TagType.BOOL);
            var lamp = new Tag("lamp", "discrete 10000", TagType.BOOL);
            assertThat(link.readTags(List.of(level)).getFirst().value()).isEqualTo(2.5);
            link.writeTags(Map.of(level, -4.5, count, 1234L, open, true));
            await().atMost(Duration.ofSeconds(2)).until(() -> Boolean.TRUE.equals(link.readTags(List.of(lamp)).getFirst().value()));
            assertThat(link.readTags(List.of(count, open, level))).extracting(Reading::value).containsExactly(1234L, true, -4.5);
            var nowhere = new Tag("nowhere", "holding 60000", TagType.INT);
            assertThat(link.readTags(List.of(count, nowhere))).extracting(Reading::quality)
                    .containsExactly(Reading.Quality.GOOD, Reading.Quality.BAD);
            assertThatThrownBy(() -> link.writeTags(Map.of(nowhere, 1L))).hasMessageContaining("nothing at this address");
            assertThatThrownBy(() -> link.readTags(List.of(new Tag("x", "holding", TagType.INT)))).hasMessageContaining("not an address");
        }
    }

    private static void staysHonest(DeviceLink link, List<Tag> tags, int cuts) {
        var readings = new AtomicReferenceArray<Reading>(tags.size());
        link.subscribeTags(tags, 50_000_000, readings::set);
        await().atMost(Duration.ofSeconds(5)).until(() -> readings.get(0) != null && readings.get(0).isGood());
        var random = new Random(5);
        for (int i = 0; i < cuts; i++) {
            plc.control().ask("fault", Map.of("kind", "cable out"));
            await().pollInterval(Duration.ofMillis(5)).atMost(Duration.ofSeconds(2)).until(() -> !readings.get(0).isGood());
            // While the cable is out, the value changes; nobody may see the old one as fresh.
            plc.control().ask("write", Map.of("values", Map.of("count", 100 + i)));
            try {
                Thread.sleep(random.nextInt(30));
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
            assertThat(readings.get(0).isGood()).isFalse();
            plc.control().ask("fault", Map.of("kind", "none"));
            long expected = 100 + i;
            await().pollInterval(Duration.ofMillis(5)).atMost(Duration.ofSeconds(20)).until(() -> {
                Reading r = readings.get(0);
                assertThat(!r.isGood() || r.value().equals(expected)).as("a good value is the present one: %s", r).isTrue();
                return r.isGood();
            });
        }
    }

    @Test
    void aCutLinkShowsNoValueAsFreshOverModbus() {
        try (var link = link(plc.modbus(), Access.ANONYMOUS)) {
            staysHonest(link, List.of(new Tag("count", "holding 5", TagType.INT)), Integer.getInteger("cuts", 5));
        }
    }

    @Test
    void aCutLinkShowsNoValueAsFreshOverOpcUa() {
        try (var link = link(plc.opcUa(), plc.access())) {
            staysHonest(link, List.of(tag("count", TagType.INT)), Integer.getInteger("cuts", 3));
        }
    }

    @Test
    void faultsShowAsQuality() {
        try (var link = link(plc.opcUa(), plc.access())) {
            var level = tag("level", TagType.REAL);
            plc.control().ask("stop", Map.of());
            assertThat(link.readTags(List.of(level)).getFirst().quality()).isEqualTo(Reading.Quality.UNCERTAIN);
            plc.control().ask("run", Map.of());
            plc.control().ask("fault", Map.of("kind", "wrong type"));
            assertThat(link.readTags(List.of(level)).getFirst().reason()).contains("another type than REAL");
            plc.control().ask("fault", Map.of("kind", "slow scan"));
            await().atMost(Duration.ofSeconds(3)).until(() -> plc.control().ask("status", Map.of()).path("tasks").path(0).path("overruns")
                    .asLong() > 0);
        }
    }

    @Test
    void theProgramIsChangedWhileItRuns() {
        long before = plc.control().ask("read", Map.of("paths", List.of("seq.n"))).path("values").path("seq.n").asLong();
        var plan = plc.control().ask("plan", Map.of("text", PROGRAM.replace("count AT %MW5 : INT", "count AT %MW5 : UINT")));
        assertThat(plan.path("fresh").has("count")).isTrue();
        plc.control().ask("change", Map.of("text", PROGRAM.replace("n := n + 1;", "n := n + 2;")));
        await().atMost(Duration.ofSeconds(2)).until(() -> plc.control().ask("read", Map.of("paths", List.of("seq.n"))).path("values")
                .path("seq.n").asLong() > before);
        plc.control().ask("takeBack", Map.of());
        assertThat(plc.control().ask("text", Map.of()).path("text").asString()).isEqualTo(PROGRAM);
        assertThatThrownBy(() -> plc.control().ask("change", Map.of("text", "PROGRAM p x := 1; END_PROGRAM")))
                .hasMessageContaining("There is no variable 'x'");
    }
}
