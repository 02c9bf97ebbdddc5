package boldanvil.core.testing;

import boldanvil.core.build.Builder;
import boldanvil.core.c.CGenerator;
import boldanvil.core.instance.Instance;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.function.DoubleUnaryOperator;

/**
 * Compiles generated C with a small main program that runs several parts for some ticks and prints every output as bits; the
 * same lines can be had of any other instance.
 */
public final class CompiledC {
    /** Flags under which generated code must compile without a word. */
    public static final List<String> STRICT = List.of("-std=c99", "-O2", "-Wall", "-Wextra", "-Wpedantic", "-Wconversion",
            "-Wdouble-promotion", "-Wfloat-conversion", "-Werror", "-ffp-contract=off");

    private CompiledC() {}

    /** What is put on input {@code i} at tick {@code k}; the same for every instance. */
    public static double stimulus(int i, int k) {
        return Math.floorMod(7 * k + 13 * i + k * k % 11, 23) * 0.75 - 8;
    }

    /** Runs an instance and returns a line for each tick: part, tick and the bits of each output and of the fault slot. */
    public static List<String> lines(Program p, Instance instance, int ticks, DoubleUnaryOperator twist) {
        List<String> lines = new ArrayList<>();
        for (int k = 0; k < ticks; k++) {
            int i = 0;
            for (Slot s : inputs(p)) {
                instance.set(s, twist.applyAsDouble(stimulus(i++, k)));
            }
            instance.sample();
            instance.step();
            var line = new StringBuilder(p.name()).append(' ').append(k);
            for (Slot s : shown(p)) {
                line.append(' ').append(bits(s.type(), instance.get(s)));
            }
            lines.add(line.toString());
            instance.advance();
        }
        return lines;
    }

    private static List<Slot> inputs(Program p) {
        return p.slots().stream().filter(s -> s.role() == Slot.Role.INPUT).toList();
    }

    private static List<Slot> shown(Program p) {
        return p.slots().stream().filter(s -> s.role() == Slot.Role.OUTPUT || s == p.fault()).toList();
    }

    /** Bits in hexadecimal; every NaN counts as the same. */
    private static String bits(Type t, double v) {
        return switch (t) {
            case FLOAT64 -> Double.isNaN(v) ? "nan" : String.format(Locale.ROOT, "%016x", Double.doubleToRawLongBits(v));
            case FLOAT32 -> Double.isNaN(v) ? "nan" : String.format(Locale.ROOT, "%08x", Float.floatToRawIntBits((float) v));
            default -> Long.toString((long) v);
        };
    }

    /** Compiles parts together with the main program and runs them. */
    public static List<String> run(Path folder, List<Program> programs, int ticks, List<String> command) {
        try {
            List<GeneratedFile> files = new ArrayList<>();
            List<String> units = new ArrayList<>(List.of("main"));
            for (Program p : programs) {
                files.addAll(CGenerator.C99.generate(p));
                units.add(p.name());
            }
            files.add(new GeneratedFile("main.c", main(programs, ticks), Map.of()));
            Builder.write(files, folder);
            List<String> link = new ArrayList<>(command);
            units.forEach(u -> link.add(u + ".o"));
            link.addAll(List.of("-o", "main", "-lm"));
            // One compiler for each core.
            units.parallelStream().forEach(u -> compile(folder, command, u));
            execute(folder, link);
            return execute(folder, List.of(folder.resolve("main").toString())).lines().toList();
        } catch (IOException | InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    private static void compile(Path folder, List<String> command, String unit) {
        List<String> line = new ArrayList<>(command);
        line.addAll(List.of("-c", unit + ".c", "-o", unit + ".o"));
        try {
            execute(folder, line);
        } catch (IOException | InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    /** Runs a command and returns what it printed; its failure fails the test. */
    public static String execute(Path folder, List<String> command) throws IOException, InterruptedException {
        Path out = Files.createTempFile(folder, "out", ".txt");
        Process p = new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).redirectOutput(out.toFile()).start();
        if (!p.waitFor(120, TimeUnit.SECONDS)) {
            p.destroyForcibly();
            throw new AssertionError("did not end: " + command);
        }
        String text = Files.readString(out);
        if (p.exitValue() != 0) {
            throw new AssertionError(String.join(" ", command) + "\n" + text);
        }
        return text;
    }

    private static String main(List<Program> programs, int ticks) {
        var s = new StringBuilder("""
                #include <inttypes.h>
                #include <stdio.h>
                #include <string.h>
                """);
        programs.forEach(p -> s.append("#include \"").append(p.name()).append(".h\"\n"));
        s.append("""
                static double stimulus(int32_t i, int32_t k)
                {
                    int32_t m = (7 * k + 13 * i + k * k % 11) % 23;
                    return (double)m * 0.75 - 8.0;
                }
                static void show64(double v)
                {
                    uint64_t b;
                    memcpy(&b, &v, 8);
                    if (v != v) { printf(" nan"); } else { printf(" %016" PRIx64, b); }
                }
                static void show32(float v)
                {
                    uint32_t b;
                    memcpy(&b, &v, 4);
                    if (v != v) { printf(" nan"); } else { printf(" %08" PRIx32, b); }
                }
                static int32_t to_int(double v) { return (int32_t)v; }
                static uint16_t to_short(double v) { return (uint16_t)(v < 0.0 ? 0 : (int32_t)v); }
                int main(void)
                {
                    show64(0.0); show32(0.0F); printf(" %d %d\\n", (int)to_int(stimulus(0, 0)), (int)to_short(0.0));
                """);
        for (Program p : programs) {
            s.append("    { static ").append(CGenerator.contextType(p)).append(" c; ").append(p.name()).append("_init(&c);\n")
                    .append("    for (int32_t k = 0; k < ").append(ticks).append("; k++) {\n");
            int i = 0;
            for (Slot in : inputs(p)) {
                String v = "stimulus(" + i++ + ", k)";
                s.append("        ").append(CGenerator.access("c", in)).append(" = ").append(switch (in.type()) {
                    case BOOL -> v + " != 0.0";
                    case INT8, INT16, INT32, INT64 -> "(" + in.type().label() + "_t)to_int(" + v + ")";
                    case UINT8, UINT16, UINT32, UINT64 -> "(" + in.type().label() + "_t)to_short(" + v + ")";
                    case FLOAT32 -> "(float)" + v;
                    case FLOAT64 -> v;
                }).append(";\n");
            }
            s.append("        ").append(p.name()).append("_sample(&c); ").append(p.name()).append("_step(&c);\n")
                    .append("        printf(\"").append(p.name()).append(" %d\", (int)k);\n");
            for (Slot o : shown(p)) {
                String v = CGenerator.access("c", o);
                s.append("        ").append(switch (o.type()) {
                    case FLOAT64 -> "show64(" + v + ")";
                    case FLOAT32 -> "show32(" + v + ")";
                    case UINT32 -> "printf(\" %u\", (unsigned)" + v + ")";
                    default -> "printf(\" %d\", (int)" + v + ")";
                }).append(";\n");
            }
            s.append("        printf(\"\\n\");\n        ").append(p.name()).append("_advance(&c);\n    } }\n");
        }
        return s.append("    return 0;\n}\n").toString();
    }
}
