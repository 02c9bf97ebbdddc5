package boldanvil.core.asbuilt;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.Names;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Settings;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.ToDoubleFunction;

/** Blocks that limit, with taps at what they limit, so that it is seen when a limit acts. */
final class LimitWatch {
    private static final String STEM = "zz limit ";

    /** A value in the running program, or one that does not change. */
    private record Source(String tap, double fixed) {}

    /** A limited value of one block on one sheet. */
    private record Watched(SheetRef sheet, Block block, String value, Source low, Source high) {}

    /**
     * A limited value while the rig runs.
     *
     * @param path diagram path of the block
     * @param integral the slot of its integral; null where it has none
     */
    record Probe(String path, String part, Slot value, Slot low, double fixedLow, Slot high, double fixedHigh, Slot integral) {
        /** −1 at the lower limit, 1 at the upper one, 0 at neither. */
        int side(BiFunction<String, Slot, Double> get) {
            double v = get.apply(part, value);
            double top = high == null ? fixedHigh : get.apply(part, high);
            double bottom = low == null ? fixedLow : get.apply(part, low);
            double near = 1e-6 * Math.max(Math.abs(top) < 1e300 ? Math.abs(top) : 0, Math.abs(bottom) < 1e300 ? Math.abs(bottom) : 0);
            return v >= top - near ? 1 : v <= bottom + near ? -1 : 0;
        }

        /** The value of the limit on a side. */
        double limit(int side, BiFunction<String, Slot, Double> get) {
            Slot s = side > 0 ? high : low;
            return s == null ? side > 0 ? fixedHigh : fixedLow : get.apply(part, s);
        }
    }

    private final List<Watched> all = new ArrayList<>();
    private Project project;
    private int taps;

    private LimitWatch(Project p) {
        project = p;
    }

    /** Puts taps at everything that is limited on the sheets of the parts. */
    static LimitWatch of(Project p) {
        var watch = new LimitWatch(p);
        var variables = Variables.resolve(p.variableTexts()).values();
        Paths.of(p).forEach((ref, paths) -> {
            if (!OwnBlock.holds(ref.sheet())) {
                p.sheet(ref).orElseThrow().blocks().forEach(b -> OwnBlocks.type(p.library(), b).ifPresent(type -> type.limits().ifPresent(
                        l -> watch.add(ref, b, type, l, name -> {
                            try {
                                return Formula.quantity(new Settings(type, b.settings()).text(name),
                                        OwnBlocks.scopeAt(p, paths.getFirst(), variables)).value();
                            } catch (FormulaException e) {
                                return Double.NaN;
                            }
                        }))));
            }
        });
        return watch;
    }

    Project project() {
        return project;
    }

    private void add(SheetRef ref, Block b, BlockType type, BlockType.Limits limits,
            ToDoubleFunction<String> parameter) {
        var face = type.face(new Settings(type, b.settings()));
        Sheet sheet = project.sheet(ref).orElseThrow();
        Optional<Source> low = source(ref, sheet, b, limits.low(), parameter);
        Optional<Source> high = source(ref, sheet, b, limits.high(), parameter);
        if (low.isEmpty() || high.isEmpty()) {
            return;
        }
        if (!face.outputs().isEmpty()) {
            all.add(new Watched(ref, b, tap(ref, b.id(), face.outputs().getFirst()), low.get(), high.get()));
            return;
        }
        for (Face.In in : face.inputs()) {
            sheet.wireInto(b.id(), in.name()).ifPresent(w -> all.add(new Watched(ref, b, tap(ref, w.from(), w.fromPort()), low.get(),
                    high.get())));
        }
    }

    /** Where a limit comes from: an input with a wire, or a parameter. */
    private Optional<Source> source(SheetRef ref, Sheet sheet, Block b, String name,
            ToDoubleFunction<String> parameter) {
        Optional<Wire> wire = sheet.wireInto(b.id(), name);
        if (wire.isPresent()) {
            return Optional.of(new Source(tap(ref, wire.get().from(), wire.get().fromPort()), 0));
        }
        double v = parameter.applyAsDouble(name);
        return Double.isNaN(v) ? Optional.empty() : Optional.of(new Source(null, v));
    }

    private String tap(SheetRef ref, String block, String port) {
        String name = STEM + ++taps;
        project = project.change(ref, s -> s.tapped(block, port, name));
        return name;
    }

    /** The limited values in the lowered system; vectors and others whose taps are not there are left out. */
    List<Probe> probes(LoweredSystem system) {
        Map<SheetRef, List<String>> paths = Paths.of(project);
        List<Probe> probes = new ArrayList<>();
        for (Watched w : all) {
            for (String path : paths.getOrDefault(w.sheet(), List.of())) {
                String part = Names.partOf(path);
                Program program = system.program(part).orElseThrow();
                Slot value = slot(program, path, w.value());
                Slot low = slot(program, path, w.low().tap());
                Slot high = slot(program, path, w.high().tap());
                if (value != null && (low != null || w.low().tap() == null) && (high != null || w.high().tap() == null)) {
                    String integral = Names.addressInPart(path + "/" + w.block().name()).replace('.', '_') + "_integral";
                    probes.add(new Probe(path + "/" + w.block().name(), part, value, low, w.low().fixed(), high, w.high().fixed(),
                            program.slots().stream().filter(s -> s.name().equals(integral)).findFirst().orElse(null)));
                }
            }
        }
        return probes;
    }

    private static Slot slot(Program program, String path, String tap) {
        return tap == null ? null : program.tap(Names.addressInPart(path + "/" + tap)).map(t -> t.slot()).orElse(null);
    }
}
