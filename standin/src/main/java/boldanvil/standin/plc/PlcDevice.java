package boldanvil.standin.plc;

import boldanvil.core.bench.PlcRemote;
import boldanvil.core.finding.FindingException;
import boldanvil.core.plc.OnlineChange;
import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Variable;
import boldanvil.core.user.Log;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** A PLC with its flash memory. Its program and what it retains are there again after the power was off. */
final class PlcDevice {
    private static final JsonMapper MAPPER = new JsonMapper();
    private static final long SLOW_NANOS = 50_000_000L;
    private static final String PROGRAM = "program.st";
    private static final String RETAINED = "retained.json";

    private final PlcSettings settings;
    private final PlcRuntime runtime;
    private final List<Runnable> onProgram = new CopyOnWriteArrayList<>();
    private volatile String text = "";
    private volatile String previous = "";
    private volatile PlcFault fault = PlcFault.NONE;

    PlcDevice(PlcSettings settings) {
        this.settings = settings;
        runtime = new PlcRuntime(settings.around());
    }

    PlcSettings settings() {
        return settings;
    }

    PlcRuntime runtime() {
        return runtime;
    }

    /** Has something done whenever it has another program. */
    void onProgram(Runnable action) {
        onProgram.add(action);
    }

    /** The text of its program; empty for none. */
    String text() {
        return text;
    }

    PlcFault fault() {
        return fault;
    }

    void fault(PlcFault next) {
        fault = next;
        runtime.delay(next == PlcFault.SLOW_SCAN ? SLOW_NANOS : 0);
    }

    /** @throws FindingException when the program has errors; then nothing changes */
    void download(String program) {
        runtime.load(PlcProgram.of(program, settings.around()));
        text = program;
        previous = "";
        keep(PROGRAM, program);
        onProgram.forEach(Runnable::run);
    }

    /** What a change to a program would do. */
    OnlineChange plan(String program) {
        return runtime.plan(PlcProgram.of(program, settings.around()));
    }

    OnlineChange change(String program) {
        var done = runtime.change(PlcProgram.of(program, settings.around()));
        previous = text;
        text = program;
        keep(PROGRAM, program);
        onProgram.forEach(Runnable::run);
        return done;
    }

    OnlineChange takeBack() {
        var done = runtime.takeBack();
        String now = text;
        text = previous;
        previous = now;
        keep(PROGRAM, text);
        onProgram.forEach(Runnable::run);
        return done;
    }

    /** The power comes on: the program that was kept runs with the values that were kept. */
    void powerOn() {
        Path folder = settings.folder();
        if (folder == null || !Files.isRegularFile(folder.resolve(PROGRAM))) {
            return;
        }
        try {
            download(Files.readString(folder.resolve(PROGRAM)));
            runtime.powerOn(kept(folder.resolve(RETAINED)));
        } catch (IOException | FindingException e) {
            Log.ignored(PlcDevice.class, e, "The program that was kept cannot be run.");
        }
    }

    /** The power goes: what is to be retained is kept. */
    void powerOff() {
        if (runtime.mode() != PlcRuntime.Mode.EMPTY) {
            keep(RETAINED, MAPPER.writeValueAsString(runtime.retained()));
        }
    }

    private static Map<String, Object> kept(Path file) throws IOException {
        Map<String, Object> values = new LinkedHashMap<>();
        if (Files.isRegularFile(file)) {
            try {
                MAPPER.readTree(Files.readString(file)).properties().forEach(e -> values.put(e.getKey(), PlcRemote.value(e.getValue())));
            } catch (JacksonException e) {
                Log.ignored(PlcDevice.class, e, "The values that were kept cannot be read.");
            }
        }
        return values;
    }

    private void keep(String file, String content) {
        if (settings.folder() != null) {
            try {
                Files.createDirectories(settings.folder());
                WholeFile.write(settings.folder().resolve(file), made -> Files.writeString(made, content, StandardCharsets.UTF_8));
            } catch (IOException e) {
                Log.ignored(PlcDevice.class, e, "The flash memory cannot be written.");
            }
        }
    }

    /** Variables that are shown to others. */
    List<Variable> shown() {
        List<Variable> all = new ArrayList<>();
        for (Variable v : runtime.variables()) {
            if (!v.isInternal()) {
                all.add(v);
            }
        }
        return all;
    }
}
