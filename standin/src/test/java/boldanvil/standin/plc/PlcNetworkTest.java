package boldanvil.standin.plc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import boldanvil.core.bench.PlcProcess;
import boldanvil.core.bench.PlcRemote;
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
import java.io.IOException;
import java.net.Socket;
import java.security.cert.X509Certificate;
import java.math.BigInteger;
import java.time.Duration;
import java.time.Period;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicIntegerArray;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.stream.IntStream;
import org.eclipse.milo.opcua.sdk.client.OpcUaClient;
import org.eclipse.milo.opcua.stack.core.security.CertificateValidator;
import org.eclipse.milo.opcua.stack.core.security.SecurityPolicy;
import org.eclipse.milo.opcua.stack.core.util.SelfSignedCertificateBuilder;
import org.eclipse.milo.opcua.stack.core.util.SelfSignedCertificateGenerator;
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
                huge : ULINT;
                long AT %ML8 : LINT := -4;
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
    void integersOf64BitsKeepEveryDigit() {
        var most = new BigInteger("18446744073709551610");
        try (var link = link(plc.opcUa(), plc.access())) {
            assertThat(link.browse(() -> false)).filteredOn(t -> t.name().equals("huge")).singleElement()
                    .satisfies(t -> assertThat(t.type()).isEqualTo(TagType.ULINT));
            link.writeTags(Map.of(tag("huge", TagType.ULINT), most, tag("long", TagType.LINT), 9_007_199_254_740_993L));
            assertThat(link.readTags(List.of(tag("huge", TagType.ULINT), tag("long", TagType.LINT)))).extracting(Reading::value)
                    .containsExactly(most, 9_007_199_254_740_993L);
        }
        assertThat(PlcRemote.value(plc.control().ask("read", Map.of("paths", List.of("huge"))).path("values").path("huge")))
                .isEqualTo(most);
        try (var link = link(plc.modbus(), Access.ANONYMOUS)) {
            var registers = new Tag("long", "holding 32 swapped", TagType.LINT);
            assertThat(link.readTags(List.of(registers)).getFirst().value()).isEqualTo(9_007_199_254_740_993L);
            link.writeTags(Map.of(registers, -9_007_199_254_740_993L));
            assertThat(link.readTags(List.of(registers)).getFirst().value()).isEqualTo(-9_007_199_254_740_993L);
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

    @Test
    void moreTagsThanFitIntoAMessageAreBrowsed() {
        plc.control().ask("download", Map.of("text", "PROGRAM many VAR a, b, c, d, e : ARRAY[1..900] OF INT; END_VAR ; END_PROGRAM"));
        plc.control().ask("run", Map.of());
        try (var link = link(plc.opcUa(), Access.ANONYMOUS)) {
            var tags = link.browse(() -> false);
            assertThat(tags).hasSize(4_502).extracting(Tag::name).contains("many.a[1]", "many.e[900]");
            assertThat(link.readTags(tags)).hasSize(4_502).allMatch(Reading::isGood);
            assertThatThrownBy(() -> link.browse(() -> true)).hasMessageContaining("cancelled");
        }
    }

    @Test
    void framesThatAreNoneHarmNobody() throws Exception {
        var random = new Random(11);
        for (Endpoint at : List.of(plc.opcUa(), plc.modbus())) {
            for (int i = 0; i < 40; i++) {
                byte[] rubbish = new byte[1 + random.nextInt(600)];
                random.nextBytes(rubbish);
                if (i % 4 == 1) {
                    // The beginning of a message, with a length of 2 GiB.
                    System.arraycopy(new byte[] {'H', 'E', 'L', 'F', -1, -1, -1, 127}, 0, rubbish, 0, Math.min(8, rubbish.length));
                } else if (i % 4 == 2 && rubbish.length > 8) {
                    // A header of Modbus whose length does not fit what follows.
                    System.arraycopy(new byte[] {0, 1, 0, 0, 0, (byte) i, 1, 16}, 0, rubbish, 0, 8);
                }
                try (var socket = new Socket("127.0.0.1", at.port())) {
                    socket.getOutputStream().write(rubbish);
                    socket.getOutputStream().flush();
                } catch (IOException e) {
                    // Ending the connection is an answer.
                }
            }
        }
        load();
        tagsAreBrowsedReadAndWrittenOverOpcUa();
        load();
        tagsAreReadAndWrittenOverModbus();
    }

    /** A client whose certificate the PLC may know, but that is not valid now. */
    @Test
    void anExpiredAndAForeignCertificateAreRefused() throws Exception {
        var keys = SelfSignedCertificateGenerator.generateRsaKeyPair(2048);
        var expired = new SelfSignedCertificateBuilder(keys).setCommonName("old").setApplicationUri("urn:old")
                .setValidityPeriod(Period.ofDays(-1)).build();
        var foreign = new SelfSignedCertificateBuilder(keys).setCommonName("foreign").setApplicationUri("urn:old").build();
        plc.control().ask("trust", Map.of("certificate", Base64.getEncoder().encodeToString(expired.getEncoded())));
        for (X509Certificate c : List.of(expired, foreign)) {
            var client = OpcUaClient.create("opc.tcp://127.0.0.1:" + plc.opcUa().port(), all -> all.stream()
                    .filter(e -> e.getSecurityPolicyUri().equals(SecurityPolicy.Basic256Sha256.getUri())).findFirst(), _ -> { },
                    b -> b.setApplicationUri("urn:old").setKeyPair(keys).setCertificate(c)
                            .setCertificateChain(new X509Certificate[] {c})
                            .setCertificateValidator(new CertificateValidator.InsecureCertificateValidator()));
            assertThatThrownBy(() -> client.connectAsync().get(10, TimeUnit.SECONDS)).as(c.getSubjectX500Principal().getName())
                    .isInstanceOf(ExecutionException.class);
            client.disconnectAsync();
        }
    }

    @Test
    void twoWritersOfATagAreBothAnsweredAndOneOfTheirValuesStays() throws Exception {
        var count = tag("count", TagType.INT);
        try (var first = link(plc.opcUa(), plc.access()); var second = link(plc.modbus(), Access.ANONYMOUS);
                var pool = Executors.newFixedThreadPool(2)) {
            var register = new Tag("count", "holding 5", TagType.INT);
            var a = pool.submit(() -> IntStream.range(0, 100).forEach(i -> first.writeTags(Map.of(count, 1_000L + i))));
            var b = pool.submit(() -> IntStream.range(0, 100).forEach(i -> second.writeTags(Map.of(register, 2_000L + i))));
            a.get(20, TimeUnit.SECONDS);
            b.get(20, TimeUnit.SECONDS);
            assertThat(first.readTags(List.of(count)).getFirst().value()).isIn(1_099L, 2_099L);
        }
    }

    private static void staysHonest(DeviceLink link, List<Tag> tags, int cuts) {
        var readings = new AtomicReferenceArray<Reading>(tags.size());
        link.subscribeTags(tags, Collections.nCopies(tags.size(), 50_000_000L), readings::set);
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

    private static void keepsRates(DeviceLink link, Tag often, Tag seldom) {
        var counts = new AtomicIntegerArray(2);
        link.subscribeTags(List.of(often, seldom), List.of(100_000_000L, 3_000_000_000L), (i, _) -> counts.incrementAndGet(i));
        for (int k = 0; k < 400 && counts.get(0) < 12; k++) {
            plc.control().ask("write", Map.of("values", Map.of("count", k, "level", k)));
            try {
                Thread.sleep(20);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }
        assertThat(counts.get(0)).isGreaterThanOrEqualTo(12);
        assertThat(counts.get(1)).isBetween(1, counts.get(0) / 2);
    }

    @Test
    void eachTagIsReadAtItsOwnRate() {
        try (var link = link(plc.opcUa(), plc.access())) {
            keepsRates(link, tag("count", TagType.INT), tag("level", TagType.REAL));
        }
        try (var link = link(plc.modbus(), Access.ANONYMOUS)) {
            keepsRates(link, new Tag("count", "holding 5", TagType.INT), new Tag("level", "holding 20", TagType.REAL));
        }
    }

    @Test
    void anInterlockIsWatchedOverTheControlChannel() {
        plc.control().ask("download", Map.of("text", PROGRAM.replace("lamp := sensor OR open;", "lamp := open\n AND level < 3.0;")));
        plc.control().ask("watchInterlock", Map.of("instance", "seq.", "line", 16));
        plc.control().ask("write", Map.of("values", Map.of("open", true)));
        plc.control().ask("run", Map.of());
        await().until(() -> Boolean.TRUE.equals(plc.control().ask("read", Map.of("paths", List.of("lamp"))).path("values").path("lamp")
                .asBoolean()));
        plc.control().ask("write", Map.of("values", Map.of("level", 4.0)));
        await().until(() -> !plc.control().ask("interlock", Map.of()).path("events").isEmpty());
        assertThat(plc.control().ask("interlock", Map.of()).path("events").get(0).path("by").get(0).asString()).isEqualTo("level < 3.0");
        assertThatThrownBy(() -> plc.control().ask("watchInterlock", Map.of("instance", "seq.", "line", 2)))
                .hasMessageContaining("Line 2 of the program has no interlock.");
        plc.control().ask("watchInterlock", Map.of("instance", "", "line", 0));
        assertThat(plc.control().ask("interlock", Map.of()).has("target")).isFalse();
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
