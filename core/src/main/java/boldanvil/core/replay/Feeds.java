package boldanvil.core.replay;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.lower.Names;
import boldanvil.core.samples.Samples;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetSource;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A project in which what was measured on devices replaces what the model would compute: where a tap recorded an output of a part on a
 * device, a tunable with the recorded values drives what the output drove. The tap itself stays at the output, so that the model can be
 * compared with the device.
 *
 * @param project with the tunables
 * @param columns the recorded column for each tunable, both by full address
 * @param outputs the output in place of which a tunable stands, by sheet and id of the tunable's block
 */
record Feeds(Project project, Map<String, String> columns, Map<WireTaps.Source, WireTaps.Source> outputs) {
    private static final String STEM = "zz measured ";

    /** Outputs are fed only where every use of their sheet runs on a device and was recorded. */
    static Feeds of(SheetSource source, Rig rig, Samples recorded) {
        Project p = source.project();
        var paths = Paths.of(p);
        Map<String, String> columns = new HashMap<>();
        Map<WireTaps.Source, WireTaps.Source> outputs = new LinkedHashMap<>();
        Set<String> done = new LinkedHashSet<>();
        int n = 0;
        for (SheetRef ref : paths.keySet()) {
            boolean own = OwnBlock.holds(ref.sheet());
            List<String> uses = paths.entrySet().stream().filter(e -> own ? e.getKey().sheet().equals(ref.sheet()) : e.getKey().equals(ref))
                    .flatMap(e -> e.getValue().stream()).toList();
            if (uses.isEmpty() || own && !done.add(ref.sheet()) || !uses.stream().allMatch(u -> isMeasured(rig, u))) {
                continue;
            }
            var sheet = p.sheet(ref).orElseThrow();
            for (var link : SheetScene.of(source, ref, uses.getFirst()).links()) {
                Wire w = link.wire();
                var tap = sheet.block(w.to()).filter(b -> b.type().equals("tap")).orElse(null);
                var output = new WireTaps.Source(ref, w.from(), w.fromPort());
                if (tap == null || link.type() == null || outputs.containsValue(output)
                        || !uses.stream().allMatch(u -> recorded.indexOf(Names.addressOf(u + "/" + tap.name())) >= 0)) {
                    continue;
                }
                String name = STEM + ++n;
                String id = p.sheet(ref).orElseThrow().freshId();
                p = p.change(ref, s -> feed(s, w, Block.of(id, "tunable", name, 0, 0, Map.of("type", link.type().label()))));
                outputs.put(new WireTaps.Source(ref, id, "y"), output);
                uses.forEach(u -> columns.put(Names.addressOf(u + "/" + name), Names.addressOf(u + "/" + tap.name())));
            }
        }
        return new Feeds(p, columns, outputs);
    }

    /** Has a tunable drive all that an output drives, but taps. */
    private static Sheet feed(Sheet s, Wire output, Block tunable) {
        // Its value can be seen where it drives nothing else.
        return s.add(tunable).redriven(s.driven(output.from(), output.fromPort()), tunable.id(), "y").tapped(tunable.id(), "y",
                tunable.name() + " end");
    }

    /** The output that a diagram path stands for: of a tunable made here, the one it replaces; of any other block itself. */
    String standsFor(String path) {
        int slash = path.lastIndexOf('/');
        if (!path.startsWith(STEM, slash + 1)) {
            return path;
        }
        return outputs.entrySet().stream().filter(e -> nameOf(e.getKey()).equals(path.substring(slash + 1))).findFirst()
                .map(e -> path.substring(0, slash + 1) + nameOf(e.getValue())).orElse(path);
    }

    private String nameOf(WireTaps.Source s) {
        return project.sheet(s.sheet()).flatMap(x -> x.block(s.block())).map(Block::name).orElse("");
    }

    /** Whether the part at the root of a diagram path runs outside the model, on a device, a target or an emulated processor. */
    private static boolean isMeasured(Rig rig, String path) {
        var mode = rig.place(Names.partOf(path)).mode();
        return mode == Rig.Mode.DEVICE || mode == Rig.Mode.EMULATED || mode == Rig.Mode.TARGET;
    }

    /** Whether any part of a rig runs outside the model. */
    static boolean isMeasured(Rig rig) {
        return rig.places().keySet().stream().anyMatch(part -> isMeasured(rig, part));
    }
}
