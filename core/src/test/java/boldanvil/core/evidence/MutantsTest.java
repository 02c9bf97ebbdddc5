package boldanvil.core.evidence;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.bench.Progress;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.trial.Verdict;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.Test;

/**
 * The demo's trials find controllers that are wrong: gains with the other sign, limits that are off, channels that are swapped. How many
 * are tried is set by {@code -Dmutants=200}.
 */
class MutantsTest {
    private static final int TRIED = Integer.getInteger("mutants", 60);
    private static final List<String> TRIALS = List.of("paddle-follows", "limits-hold", "broken-wires");

    private record Mutant(String what, Project project) {}

    private static final List<String> GAINS = List.of("k", "kp", "ki");

    /** Every controller that differs from the demo's in one place. */
    private static List<Mutant> mutants(Project demo) {
        List<Mutant> all = new ArrayList<>();
        demo.sheets().forEach((ref, sheet) -> {
            if (ref.part().equals("controller")) {
                sheet.blocks().forEach(b -> changed(b).forEach((what, next) -> all.add(new Mutant(sheet.id() + "/" + b.name() + ": " + what,
                        demo.change(ref, s -> s.change(b.id(), _ -> next))))));
                swapped(demo, ref, sheet, all);
            }
        });
        return all;
    }

    private static Map<String, Block> changed(Block b) {
        Map<String, Block> all = new java.util.LinkedHashMap<>();
        b.settings().forEach((name, value) -> {
            if (GAINS.contains(name)) {
                all.put(name + " with the other sign", b.with(name, "-(" + value + ")"));
                all.put(name + " is 0", b.with(name, "0*(" + value + ")"));
                all.put(name + " twenty times as great", b.with(name, "20*(" + value + ")"));
            }
            // The limits of a tunable say what may be set, not what the controller does.
            if ((name.equals("low") || name.equals("high")) && !b.type().equals("tunable")) {
                all.put(name + " off", b.with(name, "1000*(" + value + ")"));
                all.put(name + " narrow", b.with(name, "0.02*(" + value + ")"));
            }
            if (name.equals("signs")) {
                for (int i = 0; i < value.length(); i++) {
                    all.put("sign " + i, b.with(name, value.substring(0, i) + (value.charAt(i) == '+' ? '-' : '+')
                            + value.substring(i + 1)));
                }
            }
        });
        return all;
    }

    /** Two wires change their beginnings. */
    private static void swapped(Project demo, SheetRef ref, Sheet sheet, List<Mutant> all) {
        List<Wire> wires = sheet.wires();
        for (int i = 0; i < wires.size(); i++) {
            for (int k = i + 1; k < wires.size(); k++) {
                Wire a = wires.get(i);
                Wire b = wires.get(k);
                if (a.isNet() || b.isNet() || a.from().equals(b.from()) && a.fromPort().equals(b.fromPort())) {
                    continue;
                }
                List<Wire> next = new ArrayList<>(wires);
                next.set(i, new Wire(b.from(), b.fromPort(), a.to(), a.toPort()));
                next.set(k, new Wire(a.from(), a.fromPort(), b.to(), b.toPort()));
                all.add(new Mutant(sheet.id() + ": " + a.from() + " and " + b.from() + " swapped",
                        demo.change(ref, s -> s.withWires(next))));
            }
        }
    }

    private static boolean isCaught(Mutant m) {
        return TRIALS.stream().anyMatch(t -> TrialRunner.run(m.project(), t, "desk",
                new TrialRunner.Options(Path.of("target"), Map.of(), false,
                false), Progress.NONE, _ -> { }).verdict() != Verdict.PASSED);
    }

    @Test
    void nineteenOfTwentyWrongControllersAreCaught() throws Exception {
        Project demo = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        assertThat(isCaught(new Mutant("none", demo))).isFalse();
        List<Mutant> runnable = new ArrayList<>(mutants(demo).stream()
                .filter(m -> !boldanvil.core.lower.LoweredSystem.of(m.project()).hasErrors()).toList());
        java.util.Collections.shuffle(runnable, new java.util.Random(17));
        List<Mutant> chosen = runnable.subList(0, Math.min(TRIED, runnable.size()));
        List<String> survived = new ArrayList<>();
        try (var pool = Executors.newFixedThreadPool(Runtime.getRuntime().availableProcessors())) {
            var jobs = chosen.stream().map(m -> pool.submit(() -> isCaught(m))).toList();
            for (int i = 0; i < jobs.size(); i++) {
                if (!jobs.get(i).get()) {
                    survived.add(chosen.get(i).what());
                }
            }
        }
        assertThat(survived).as(runnable.size() + " mutants, of " + chosen.size() + " these survived").hasSizeLessThanOrEqualTo(
                chosen.size() / 20);
    }
}
