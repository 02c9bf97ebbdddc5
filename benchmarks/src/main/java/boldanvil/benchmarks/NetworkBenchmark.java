package boldanvil.benchmarks;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;

/** Time of a step of networks as Java and as C, in one process, and of compiling large ones. */
public final class NetworkBenchmark {
    private static final int TICKS = 200_000;
    private static final int ROUNDS = 9;

    private NetworkBenchmark() {}

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("bold-anvil-networks");
        try {
            System.out.printf("%-46s %10s %10s %10s%n", "network, 1 µs step", "Java ns", "C ns", "Java / C");
            measure(folder, "lamp charger, detailed", program("lamp-charger", "desk", "stage"), Map.of("duty", 0.43));
            measure(folder, "lamp charger, ideal edges", program("lamp-charger", "switching", "stage"), Map.of("duty", 0.43));
            measure(folder, "lamp charger, averaged", program("lamp-charger", "averaged", "stage"), Map.of("duty", 0.43));
            Map<String, Double> duties = Map.of("leg A", 0.55, "leg B", 0.48, "leg C", 0.47);
            measure(folder, "three-phase bridge with machine, averaged", program("gate-network", "desk", "servo"), duties);
            measure(folder, "three-phase bridge with machine, ideal edges", program("gate-network", "switching", "servo"), duties);
            measure(folder, "three-phase bridge with machine, detailed", program("gate-network", "detailed", "servo"), duties);
            System.out.printf("%n%-46s %10s %10s%n", "compiled", "states", "s");
            compile("60-element ladder of coils and capacitors", () -> ladder(30, true));
            compile("mesh of 250 resistors and capacitors", () -> ladder(250, false));
            compile("mesh of 500 resistors and capacitors", () -> ladder(500, false));
        } finally {
            Folders.delete(folder);
        }
    }

    private static Program program(String demo, String rig, String part) {
        Project p = ProjectReader.read(Path.of("demo", demo));
        return LoweredSystem.of(p.as(p.rig(rig).orElseThrow())).orThrow().program(part).orElseThrow();
    }

    private static PartBuilder ladder(int stages, boolean coils) {
        var b = new PartBuilder("ladder").plant("10 us", "rk4").block("supply", "voltage source", "V=10").block("gnd", "ground")
                .net("supply.b", "gnd.a");
        String at = "supply.a";
        for (int i = 0; i < stages; i++) {
            b.block("along" + i, coils ? "inductor" : "resistor", coils ? "R=0.1" : "R=10").net(at, "along" + i + ".a")
                    .block("down" + i, "capacitor", "C=1 uF").net("along" + i + ".b", "down" + i + ".a").net("down" + i + ".b", "gnd.a");
            at = "along" + i + ".b";
        }
        return b.block("m", "voltmeter").block("v", "tap").net(at, "m.a").net("m.b", "gnd.a").wire("m.v", "v.u");
    }

    private static void compile(String title, Supplier<PartBuilder> make) {
        long begin = System.nanoTime();
        Program p = make.get().program();
        JvmCompiler.compile(p).instantiate().init();
        long states = p.slots().stream().filter(s -> s.role() == Slot.Role.STATE && s.name().endsWith("stored")).count();
        System.out.printf(Locale.ROOT, "%-46s %10d %10.2f%n", title, states, (System.nanoTime() - begin) / 1e9);
    }

    private static void measure(Path folder, String title, Program p, Map<String, Double> inputs) throws IOException {
        Path own = folder.resolve(title.replace(' ', '-').replace(",", ""));
        Map<String, String> set = new TreeMap<>();
        for (Port port : p.ports()) {
            if (inputs.containsKey(port.name())) {
                set.put("c.in." + port.slot().name(), Double.toString(inputs.get(port.name())));
            }
        }
        Programs.write(own, p, Programs.timed(p, TICKS, String.join("\n", set.entrySet().stream()
                .map(e -> e.getKey() + " = " + e.getValue() + ";").toList())));
        Programs.run(own, List.of("gcc", "-std=c99", "-O2", "-ffp-contract=off", p.name() + ".c", "main.c", "-o", "main", "-lm"));
        Instance java = JvmCompiler.compile(p).instantiate();
        double[] j = new double[ROUNDS];
        double[] c = new double[ROUNDS];
        for (int r = -ROUNDS; r < ROUNDS; r++) {
            double now = Programs.nanos(java, TICKS, i -> p.ports().stream().filter(q -> inputs.containsKey(q.name()))
                    .forEach(q -> i.set(q.slot(), inputs.get(q.name()))));
            if (r >= 0) {
                j[r] = now;
                c[r] = Double.parseDouble(Programs.run(own, List.of(own.resolve("main").toString())));
            }
        }
        double inJava = Programs.median(j);
        double inC = Programs.median(c);
        System.out.printf(Locale.ROOT, "%-46s %10.0f %10.0f %10.2f%n", title, inJava, inC, inJava / inC);
    }
}
