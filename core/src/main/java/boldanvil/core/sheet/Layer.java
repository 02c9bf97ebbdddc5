package boldanvil.core.sheet;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Program;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Small texts that can be shown above all plates of a sheet. */
public enum Layer {
    SAMPLE_TIMES("Sample times", "when each block is computed"),
    TYPES("Data types", "the types of the outputs"),
    UNITS("Units", "the units that inlets, outlets, taps and terminals state"),
    ORDER("Order of execution", "the place of each block among those of this sheet, from 1"),
    LOAD("Load", "the share of each block in the operations of its part");

    private final String title;
    private final String meaning;

    Layer(String title, String meaning) {
        this.title = title;
        this.meaning = meaning;
    }

    public String title() {
        return title;
    }

    /** What its texts say, for a legend. */
    public String legend() {
        return title + ": " + meaning;
    }

    /**
     * The texts of a sheet by block id.
     *
     * @param path diagram path of the sheet
     */
    public Map<String, String> of(SheetSource source, SheetRef ref, String path) {
        var sheet = source.project().sheet(ref).orElse(null);
        if (sheet == null) {
            return Map.of();
        }
        return switch (this) {
            case SAMPLE_TIMES -> each(sheet, b -> sampleTime(source, ref, path, b));
            case TYPES -> types(source, ref, path, sheet);
            case UNITS -> each(sheet, b -> b.settings().getOrDefault("unit", ""));
            case ORDER -> order(source, ref, path, sheet);
            case LOAD -> load(source, ref, path, sheet);
        };
    }

    private static Map<String, String> each(Sheet sheet, java.util.function.Function<Block, String> text) {
        Map<String, String> texts = new HashMap<>();
        sheet.blocks().forEach(b -> {
            String t = text.apply(b);
            if (!t.isEmpty()) {
                texts.put(b.id(), t);
            }
        });
        return texts;
    }

    /** Its own, that of the nearest subsystem around it, or that of the part. */
    private static String sampleTime(SheetSource source, SheetRef ref, String path, Block b) {
        var type = Stock.find(b.type()).orElse(null);
        if (type == null || type.role() == BlockType.Role.CONSTANT || type.role().isRouting()) {
            return "";
        }
        if (type.continuousOnly()) {
            return Settings.CONTINUOUS;
        }
        String own = b.settings().getOrDefault(Settings.SAMPLE_TIME, "");
        String at = path;
        while (own.isEmpty() && at.contains("/")) {
            own = Places.find(source.project(), at)
                    .map(p -> p.block().settings().getOrDefault(Settings.SAMPLE_TIME, "")).orElse("");
            at = at.substring(0, at.lastIndexOf('/'));
        }
        return own.isEmpty() ? source.project().part(ref.part()).map(p -> p.sampleTime()).orElse("") : own;
    }

    private static Map<String, String> types(SheetSource source, SheetRef ref, String path, Sheet sheet) {
        Map<String, LinkedHashMap<String, Type>> found = new HashMap<>();
        SheetScene.of(source, ref, path).links().stream().filter(l -> l.type() != null)
                .forEach(l -> found.computeIfAbsent(l.wire().from(), _ -> new LinkedHashMap<>()).put(l.wire().fromPort(), l.type()));
        return each(sheet, b -> !found.containsKey(b.id()) ? "" : found.get(b.id()).values().stream().map(Type::label).distinct()
                .collect(Collectors.joining(", ")));
    }

    private static Map<String, String> order(SheetSource source, SheetRef ref, String path, Sheet sheet) {
        Map<String, Integer> weights = weights(source.system().program(ref.part()).orElse(null));
        Map<String, String> texts = new HashMap<>();
        int n = 0;
        for (String at : weights.keySet()) {
            for (Block b : sheet.blocks()) {
                String own = path + "/" + b.name();
                if (!texts.containsKey(b.id()) && (at.equals(own) || at.startsWith(own + "/"))) {
                    texts.put(b.id(), Integer.toString(++n));
                }
            }
        }
        return texts;
    }

    private static Map<String, String> load(SheetSource source, SheetRef ref, String path, Sheet sheet) {
        Map<String, Integer> weights = weights(source.system().program(ref.part()).orElse(null));
        double all = Math.max(1, weights.values().stream().mapToInt(Integer::intValue).sum());
        return each(sheet, b -> {
            String own = path + "/" + b.name();
            int mine = weights.entrySet().stream().filter(e -> e.getKey().equals(own) || e.getKey().startsWith(own + "/"))
                    .mapToInt(Map.Entry::getValue).sum();
            return mine == 0 ? "" : String.format(Locale.ROOT, "%.1f %%", 100 * mine / all);
        });
    }

    /** Operations by the path of their block, in the order in which the blocks are computed first. */
    private static Map<String, Integer> weights(Program program) {
        Map<String, Integer> weights = new LinkedHashMap<>();
        if (program != null) {
            program.procedures().stream().filter(p -> !p.name().equals("init")).forEach(p -> weigh(p.body(), weights));
        }
        return weights;
    }

    private static void weigh(List<Stmt> body, Map<String, Integer> weights) {
        for (Stmt s : body) {
            if (s.origin() != null) {
                weights.merge(s.origin().path(), 1 + s.expressions().stream().mapToInt(Layer::size).sum(), Integer::sum);
            }
            s.bodies().forEach(b -> weigh(b, weights));
        }
    }

    private static int size(Expr e) {
        return 1 + e.children().stream().mapToInt(Layer::size).sum();
    }
}
