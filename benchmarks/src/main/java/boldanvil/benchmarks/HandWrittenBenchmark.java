package boldanvil.benchmarks;

import boldanvil.core.c.CGenerator;
import boldanvil.core.files.Folders;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Generated C against C written by hand for the same law: instructions by valgrind's callgrind, at gcc -O2, and bytes of RAM. */
public final class HandWrittenBenchmark {
    private static final int TICKS = 20_000;
    private static final Pattern COLLECTED = Pattern.compile("Collected : (\\d+)");

    private HandWrittenBenchmark() {}

    public static void main(String[] args) throws IOException {
        System.out.printf("%-28s %14s %14s %8s %10s %10s %8s%n", "law", "generated", "by hand", "ratio", "RAM", "by hand", "ratio");
        Path folder = Files.createTempDirectory("bold-anvil-hand");
        try {
            compare("field-oriented control", Programs.part("demo/gate-drive", "controller"), "foc", folder.resolve("foc"),
                    "in.shunt_A_pin = %s; c.in.shunt_B_pin = %s; c.in.shaft_pin = %s; c.in.demand_pin = 0.5;",
                    "shunt_a = %s; c.shunt_b = %s; c.shaft = %s; c.demand = 0.5;");
            compare("PID cascade", Programs.part("demo/larkmere-lock", "controller"), "cascade", folder.resolve("cascade"),
                    "in.shunt_A_pin = %s; c.in.shunt_B_pin = %s; c.in.shaft_pin = %s; c.in.enable_pin = true;",
                    "shunt_a = %s; c.shunt_b = %s; c.shaft = %s; c.enable = true;");
        } finally {
            Folders.delete(folder);
        }
    }

    private static void compare(String title, Program p, String hand, Path folder, String inputs, String handInputs) throws IOException {
        String[] values = {"1.65 + 0.01 * (double)(k % 50)", "1.65 - 0.01 * (double)(k % 50)", "0.001 * (double)k"};
        Programs.write(folder, p, main(p.name() + ".h", CGenerator.contextType(p), p.name() + "_init(&c);",
                inputs.formatted((Object[]) values),
                calls(p)));
        for (String ending : List.of(".c", ".h")) {
            Files.copy(Path.of("benchmarks/src/main/c", hand + ending), folder.resolve(hand + ending));
        }
        Files.writeString(folder.resolve("hand_main.c"), main(hand + ".h", hand + "_t", hand + "_init(&c);",
                handInputs.formatted((Object[]) values),
                hand + "_step(&c);"));
        long generated = instructions(folder, p.name() + ".c", "main.c");
        long byHand = instructions(folder, hand + ".c", "hand_main.c");
        int ram = Layout.of(p).size();
        int handRam = Integer.parseInt(Programs.run(folder, List.of("./" + "hand_main.out", "size")).strip());
        System.out.printf(Locale.ROOT, "%-28s %14.1f %14.1f %8.2f %10d %10d %8.2f%n", title, (double) generated / TICKS,
                (double) byHand / TICKS,
                (double) generated / byHand, ram, handRam, (double) ram / handRam);
    }

    /** The calls that do something, as the guide beside the code says. */
    private static String calls(Program p) {
        return Program.ENTRIES.stream().filter(e -> !e.equals(Program.INIT) && !p.isIdle(e))
                .map(e -> p.name() + "_" + e + "(&c);").collect(Collectors.joining(" "));
    }

    private static String main(String header, String type, String init, String inputs, String step) {
        return """
                #include "%s"
                #include <stdio.h>
                static %s c;
                int main(int n, char **v)
                {
                    (void)v;
                    if (n > 1) {
                        printf("%%d", (int)sizeof c);
                        return 0;
                    }
                    %s
                    for (int k = 0; k < %d; k++) {
                        c.%s
                        %s
                    }
                    return 0;
                }
                """.formatted(header, type, init, TICKS, inputs, step);
    }

    private static long instructions(Path folder, String file, String main) throws IOException {
        String out = main.replace(".c", ".out");
        Programs.run(folder, List.of("gcc", "-std=c99", "-O2", "-ffp-contract=off", file, main, "-o", out, "-lm"));
        Matcher m = COLLECTED.matcher(Programs.run(folder, List.of("valgrind", "--tool=callgrind", "--callgrind-out-file=/dev/null",
                "./" + out)));
        if (!m.find()) {
            throw new IOException("callgrind gave no count");
        }
        return Long.parseLong(m.group(1));
    }
}
