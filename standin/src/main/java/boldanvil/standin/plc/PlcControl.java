package boldanvil.standin.plc;

import boldanvil.core.bench.PlcRemote;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.plc.FirstOut;
import boldanvil.core.plc.OnlineChange;
import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.text.Interlock;
import boldanvil.core.text.PlcProgram;
import boldanvil.standin.ControlChannel;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import tools.jackson.databind.JsonNode;

/** The control channel of a PLC: its program, its clock, its forced values, and what is wrong with it on purpose. */
final class PlcControl extends ControlChannel {
    private static final Place PLACE = Place.named("PLC");

    private final PlcDevice device;
    private final PlcClock clock;
    private final PlcOpcUaServer opcUa;
    private final PlcModbusServer modbus;
    private final CountDownLatch ending = new CountDownLatch(1);

    /** @param opcUa null for none; @param modbus null for none */
    PlcControl(String token, PlcDevice device, PlcClock clock, PlcOpcUaServer opcUa, PlcModbusServer modbus) throws IOException {
        super(token, "PLC", PLACE);
        this.device = device;
        this.clock = clock;
        this.opcUa = opcUa;
        this.modbus = modbus;
        open();
    }

    boolean awaitEnd(long millis) throws InterruptedException {
        return ending.await(millis, TimeUnit.MILLISECONDS);
    }

    @Override
    protected Map<String, Object> handle(String what, JsonNode r) throws IOException {
        var runtime = device.runtime();
        return switch (what) {
            case "hello" -> Map.of();
            case "download" -> done(() -> device.download(r.path("text").asString("")));
            case "text" -> Map.of("text", device.text());
            case "plan" -> told(device.plan(r.path("text").asString("")));
            case "change" -> told(device.change(r.path("text").asString("")));
            case "takeBack" -> told(device.takeBack());
            case "run" -> done(runtime::run);
            case "stop" -> done(runtime::stop);
            case "cold" -> done(runtime::coldStart);
            case "warm" -> done(runtime::warmStart);
            case "power" -> done(() -> power(r.path("on").asBoolean(true)));
            case "rewind" -> done(runtime::rewind);
            case "hold" -> done(() -> clock.hold(r.path("held").asBoolean(true)));
            case "advance" -> done(() -> clock.advance(r.path("to").asLong(0)));
            case "scan" -> done(runtime::scanOnce);
            case "watchdog" -> done(() -> runtime.watchdog(r.path("nanos").asLong(Long.MAX_VALUE)));
            case "fault" -> done(() -> fault(r.path("kind").asString("")));
            case "force" -> done(() -> runtime.force(r.path("path").asString(""), PlcRemote.value(r.path("value"))));
            case "release" -> done(() -> runtime.release(r.path("path").asString("")));
            case "write" -> done(() -> r.path("values").properties().forEach(e ->
                    runtime.write(e.getKey(), PlcRemote.value(e.getValue()))));
            case "read" -> Map.of("values", read(r.path("paths")));
            case "watchInterlock" -> done(() -> watch(r.path("instance").asString(""), r.path("line").asInt(0)));
            case "interlock" -> interlock();
            case "exchange" -> exchange(r);
            case "trust" -> done(() -> trust(r.path("certificate").asString("")));
            case "variables" -> Map.of("variables", device.shown().stream().map(PlcControl::variable).toList());
            case "status" -> status();
            case "end" -> done(ending::countDown);
            default -> throw FindingException.of(PLACE, "There is no request '" + what + "'.", "See docs/formats.md.");
        };
    }

    private static Map<String, Object> done(Runnable action) {
        action.run();
        return Map.of();
    }

    private static Map<String, Object> told(OnlineChange c) {
        return Map.of("kept", c.kept().size(), "fresh", c.fresh(), "removed", c.removed());
    }

    private void power(boolean on) {
        if (on) {
            device.powerOn();
        } else {
            device.powerOff();
            device.runtime().stop();
        }
    }

    private void fault(String kind) {
        try {
            device.fault(PlcFault.valueOf(kind.toUpperCase(Locale.ROOT).replace(' ', '_')));
        } catch (IllegalArgumentException e) {
            throw FindingException.of(PLACE, "A PLC has no fault '" + kind + "'.", "Use none, cable out, slow scan or wrong type.");
        }
        if (device.fault() == PlcFault.CABLE_OUT) {
            if (opcUa != null) {
                opcUa.cut();
            }
            if (modbus != null) {
                modbus.cut();
            }
        }
    }

    private Map<String, Object> read(JsonNode paths) {
        Map<String, Object> values = new LinkedHashMap<>();
        // A path the program does not have is left out: whoever asks may know the tags of another program.
        paths.forEach(p -> {
            if (device.runtime().variable(p.asString("")).isPresent()) {
                values.put(p.asString(""), plain(device.runtime().read(p.asString(""))));
            }
        });
        return values;
    }

    private void watch(String instance, int line) {
        device.runtime().watch(line == 0 ? null : Interlock.of(device.text()).stream().filter(i -> i.line() == line).findFirst()
                .map(i -> new FirstOut(i, instance)).orElseThrow(() -> FindingException.of(PLACE, "Line " + line
                        + " of the program has no interlock.",
                        "Choose a line that assigns conditions with AND between them.")));
    }

    private Map<String, Object> interlock() {
        return device.runtime().watched().map(f -> Map.<String, Object>of("instance", f.instance(), "target", f.interlock().target(),
                "events", f.events().stream().map(e -> Map.of("nanos", e.nanos(), "by", e.by())).toList())).orElse(Map.of());
    }

    /** JSON has numbers, but none that are infinite. */
    private static Object plain(Object value) {
        return value instanceof Double d && !Double.isFinite(d) ? (Object) d.toString() : value;
    }

    /** Sets values, lets time go, and reads values: a step in which nothing is asked twice. */
    private Map<String, Object> exchange(JsonNode r) {
        r.path("write").properties().forEach(e -> device.runtime().write(e.getKey(), PlcRemote.value(e.getValue())));
        clock.advance(r.path("to").asLong(0));
        return Map.of("values", read(r.path("read")), "mode", device.runtime().mode().name());
    }

    private void trust(String certificate) {
        if (opcUa == null) {
            return;
        }
        try {
            byte[] bytes = Base64.getDecoder().decode(certificate);
            opcUa.trust((X509Certificate) CertificateFactory.getInstance("X.509").generateCertificate(new ByteArrayInputStream(bytes)));
        } catch (IllegalArgumentException | CertificateException e) {
            throw FindingException.of(PLACE, "This is not a certificate.", "Send an X.509 certificate, DER in Base64.");
        }
    }

    private static Map<String, Object> variable(PlcProgram.Variable v) {
        return Map.of("path", v.path(), "type", v.type(), "address", v.address(), "retained", v.retained());
    }

    private Map<String, Object> status() {
        var runtime = device.runtime();
        Map<String, Object> s = new LinkedHashMap<>();
        s.put("mode", runtime.mode().name());
        s.put("reason", runtime.reason());
        s.put("now", runtime.nowNanos());
        s.put("program", runtime.program().map(PlcProgram::name).orElse(""));
        s.put("forces", runtime.forces());
        s.put("fault", device.fault().name());
        s.put("faults", runtime.faults());
        List<Object> tasks = new ArrayList<>();
        for (PlcRuntime.TaskState t : runtime.tasks()) {
            tasks.add(Map.of("name", t.name(), "interval", t.intervalNanos(), "scans", t.scans(), "overruns", t.overruns(), "mean",
                    t.times().mean(), "longest", t.times().longest(), "counts", t.times().counts()));
        }
        s.put("tasks", tasks);
        s.put("lateness", Map.of("mean", clock.lateness().mean(), "longest", clock.lateness().longest(), "counts",
                clock.lateness().counts()));
        return s;
    }
}
