package boldanvil.core.testing;

import boldanvil.core.lower.Solver;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Formula;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Makes random valid parts of all block types, types and rates. Every output either feeds others or leaves the part, loops go
 * through delays, and the same seed makes the same part.
 */
public final class RandomSheets {
    private record Source(String end, Type type, int width) {}

    private static final Type[] INTEGERS = {Type.INT8, Type.UINT8, Type.INT16, Type.UINT16, Type.INT32, Type.UINT32};
    private static final String[] TEXTS = {
        "VAR_INPUT u : DINT; END_VAR VAR_OUTPUT y : DINT; z : BOOL; END_VAR VAR a : ARRAY [0..4] OF DINT; i : DINT; t : TON; END_VAR "
            + "FOR i := 0 TO 4 DO a[i] := a[i] + u * i; IF a[i] > 100 THEN a[i] := 0; CONTINUE; END_IF; y := y + a[i] MOD 7; END_FOR; "
            + "t(IN := u > 0, PT := T#4ms, Q => z);",
        "FUNCTION f : INT VAR_INPUT x : INT; END_VAR VAR k : INT; END_VAR WHILE x > 1 AND k < 20 DO k := k + 1; IF x MOD 2 = 0 THEN x := "
        + "x / 2; "
            + "ELSE x := 3 * x + 1; END_IF; END_WHILE; f := k; END_FUNCTION VAR_INPUT u : INT; b : BOOL; END_VAR VAR_OUTPUT y : INT; w : "
            + "UINT; END_VAR "
            + "VAR e : R_TRIG; n : UINT; END_VAR e(b); IF e.Q THEN n := n + 1; END_IF; w := ROL(n, 3) XOR 16#FF; y := f(u); IF b THEN "
            + "RETURN; END_IF; "
            + "y := y / u;"};
    private static final String[] CHARTS = {
        "VAR_INPUT go : BOOL; END_VAR VAR_OUTPUT a : BOOL; n : DINT; END_VAR VAR late : BOOL; END_VAR INITIAL_STEP rest: END_STEP "
            + "STEP work: a(N); count(P); END_STEP STEP left: late(D, T#3ms); hold(S); END_STEP STEP right: brief(L, T#4ms); END_STEP "
            + "STEP done: hold(R); END_STEP ACTION count: n := n + 1; END_ACTION ACTION hold: n := n + 10; END_ACTION "
            + "ACTION brief: n := n + 100; END_ACTION TRANSITION FROM rest TO work := go; END_TRANSITION "
            + "TRANSITION FROM work TO (left, right) := work.T >= T#2ms; END_TRANSITION "
            + "TRANSITION FROM (left, right) TO done := late AND right.T > T#5ms; END_TRANSITION "
            + "TRANSITION FROM done TO rest := NOT go OR done.T >= T#3ms; END_TRANSITION",
        "FUNCTION_BLOCK once VAR_INPUT u : BOOL; END_VAR VAR_OUTPUT q : BOOL; END_VAR VAR before : BOOL; END_VAR q := u AND NOT before; "
            + "before := u; END_FUNCTION_BLOCK VAR_INPUT x : LREAL; b : BOOL; END_VAR VAR_OUTPUT active : DINT; y : LREAL := 1.5; END_VAR "
            + "VAR o : once; END_VAR INITIAL_STEP one: add(N); END_STEP STEP two: END_STEP ACTION add: o(b); IF o.q THEN y := y + x / 3.0; "
            + "END_IF; active := active + 1; END_ACTION TRANSITION (PRIORITY := 2) FROM one TO two := b AND one.T >= T#3ms; END_TRANSITION "
            + "TRANSITION (PRIORITY := 1) FROM one TO one := x > 2.0; END_TRANSITION TRANSITION FROM two TO one := NOT b; END_TRANSITION"};
    /** Parameters that may be any small number. */
    private static final Set<String> FREE = Set.of("k", "kp", "ki", "kd", "value", "initial", "before", "after", "amplitude", "bias",
            "mean", "spread",
            "slope", "gain", "on", "off", "Fc", "Fs", "width", "PV", "b", "c");

    private final Random random;
    private final PartBuilder part;
    private final List<Source> sources = new ArrayList<>();
    private final boolean continuous;
    private final Type real;
    private int count;
    private Set<String> allowed = Set.of();

    private RandomSheets(long seed) {
        random = new Random(seed);
        part = new PartBuilder("p" + Long.toUnsignedString(seed));
        continuous = random.nextInt(4) == 0;
        real = random.nextInt(3) == 0 ? Type.FLOAT32 : Type.FLOAT64;
        part.real(real.label());
        if (continuous) {
            part.plant("2 ms", Solver.names().get(random.nextInt(random.nextInt(4) == 0 ? Solver.names().size()
                    : Solver.names().size() - 1)));
        } else {
            part.sampleTime("1 ms");
        }
    }

    /** A part of about as many blocks of some types only. */
    public static PartBuilder part(long seed, int blocks, Set<String> types) {
        var sheets = new RandomSheets(seed);
        sheets.allowed = types;
        return sheets.build(blocks);
    }

    /** The same part with everything in it recorded. */
    public static PartBuilder recorded(long seed, int blocks) {
        var sheets = new RandomSheets(seed);
        var part = sheets.build(blocks);
        for (Source s : sheets.sources) {
            String name = "tap" + sheets.count++;
            part.block(name, "tap").wire(s.end(), name + ".u");
        }
        return part;
    }

    /** A part with about as many blocks as wanted. */
    public static PartBuilder part(long seed, int blocks) {
        return new RandomSheets(seed).build(blocks);
    }

    private PartBuilder build(int blocks) {
        for (Type t : new Type[] {real, real, Type.BOOL, Type.INT8, Type.UINT8, Type.INT16, Type.UINT16, Type.INT32, Type.UINT32}) {
            String name = "in" + count++;
            part.block(name, "inlet", "type=" + (t == real ? "real" : t.label()));
            sources.add(new Source(name + ".y", t, 1));
        }
        List<BlockType> ordinary = Stock.all().stream().filter(t -> t.role() == BlockType.Role.ORDINARY
                || t.role() == BlockType.Role.CONSTANT).filter(t -> continuous ? !t.discreteOnly() : true)
                .filter(t -> allowed.isEmpty() || allowed.contains(t.id())).toList();
        subsystems();
        for (int i = 0; i < blocks; i++) {
            add(ordinary.get(random.nextInt(ordinary.size())));
        }
        for (int i = 0; i < 8; i++) {
            String name = "out" + count++;
            part.block(name, "outlet");
            part.wire(pick(s -> s.width() == 1).end(), name + ".u");
        }
        return part;
    }

    /** Copies of one inner sheet, some of which run only at times. */
    private void subsystems() {
        int copies = random.nextInt(4);
        String[] runs = continuous ? new String[] {"always", "as one"} : new String[] {"always", "as one", "as one", "while on",
                "on rising edge", "on any edge"};
        for (int i = 0; i < copies; i++) {
            String name = "sub" + count++;
            String when = runs[random.nextInt(runs.length)];
            part.block(name, "subsystem", "sheet=inner", "runs=" + when, "when switched on=" + (random.nextBoolean() ? "restart"
                    : "continue"));
            part.wire(pick(s -> s.type() == real && s.width() == 1).end(), name + ".u");
            if (!when.equals("always") && !when.equals("as one")) {
                part.wire(pick(s -> s.type() == Type.BOOL && s.width() == 1).end(), name + ".control");
            }
            sources.add(new Source(name + ".y", real, 1));
        }
        if (copies > 0) {
            part.sheet("inner").block("u", "inlet").block("g", "gain", "k=3").block("s", "sum", "signs=+-")
                    .block("m", "saturation", "low=-5", "high=5")
                    .block("y", "outlet").wire("u.y", "g.u").wire("g.y", "s.u1").wire("s.y", "m.u").wire("m.y", "y.u");
            part.block("x", continuous ? "integrator" : "accumulator", "initial=1").wire("m.y", "x.u").wire("x.y", "s.u2").sheet("main");
        }
    }

    private Source pick(Predicate<Source> wanted) {
        List<Source> fitting = sources.stream().filter(wanted).toList();
        // Newer sources more often, so that chains grow long.
        int n = fitting.size();
        return n == 0 ? null : fitting.get(n - 1 - (int) (Math.abs(random.nextGaussian()) * n / 3) % n);
    }

    private void add(BlockType type) {
        Map<String, String> settings = settings(type);
        var s = new Settings(type, settings);
        Face face = type.face(s);
        Type common = commonType(type, settings);
        List<Source> chosen = new ArrayList<>();
        int width = 1;
        for (Face.In in : face.inputs()) {
            if (in.optional() && random.nextBoolean()) {
                chosen.add(null);
                continue;
            }
            int so = width;
            Source source = pick(x -> fits(in, x.type(), common) && widthFits(type, x.width(), so));
            if (source == null) {
                return;
            }
            width = Math.max(width, source.width());
            chosen.add(source);
        }
        String name = type.id().replace(' ', '_').replace('-', '_') + count++;
        List<String> texts = new ArrayList<>();
        settings.forEach((k, v) -> texts.add(k + "=" + v));
        if (!continuous && type.role() != BlockType.Role.CONSTANT && !type.continuousOnly() && random.nextInt(4) == 0) {
            texts.add("sample time=" + new String[] {"1 ms", "2 ms", "5 ms"}[random.nextInt(3)]);
        }
        part.block(name, type.id(), texts.toArray(String[]::new));
        List<Type> types = new ArrayList<>();
        List<Integer> widths = new ArrayList<>();
        for (int i = 0; i < chosen.size(); i++) {
            Source c = chosen.get(i);
            Face.In in = face.inputs().get(i);
            types.add(c == null || !in.isCommon() ? null : c.type());
            widths.add(c == null ? 1 : c.width());
            if (c != null) {
                part.wire(routed(c), name + "." + in.name());
            }
        }
        for (int o = 0; o < face.outputs().size(); o++) {
            int w = Math.max(1, type.widthOf(o, widths, s, p -> Formula.evaluateList(s.text(p), Map.of()).length));
            sources.add(new Source(name + "." + face.outputs().get(o), type.typeOf(o, types, s, real), w));
        }
    }

    /** Where a wire from a source begins; now and then it goes by a name, or through a bundle. */
    private String routed(Source c) {
        int way = random.nextInt(30);
        if (way > 2) {
            return c.end();
        }
        String n = Integer.toString(count++);
        if (way == 0) {
            part.block("wire" + n, "label").block("on" + n, "from label", "wire=wire" + n).wire(c.end(), "wire" + n + ".u");
            return "on" + n + ".y";
        }
        part.block("bundle" + n, "bundle", "fields=a, b", "in code=" + (way == 1 ? "as a struct" : "separate"))
                .block("field" + n, "field", "field=b")
                .wire(c.end(), "bundle" + n + ".a").wire(c.end(), "bundle" + n + ".b").wire("bundle" + n + ".y", "field" + n + ".u");
        return "field" + n + ".y";
    }

    private boolean fits(Face.In in, Type t, Type common) {
        if (in.exact() != null) {
            return t == in.exact();
        }
        return switch (in.accept()) {
            case LOGIC -> t == Type.BOOL;
            case REAL -> t == real;
            case INTEGER -> t.isInteger();
            case OWN -> true;
            default -> t == common;
        };
    }

    /** Vectors as a whole need their very number of elements; blocks made for each element, the same everywhere. */
    private static boolean widthFits(BlockType type, int width, int soFar) {
        return switch (type.id()) {
            case "split" -> width == 2;
            case "dot" -> width == 2;
            case "matrix" -> width == 2;
            case "join", "vector reduction", "pick" -> width < 5;
            default -> type.isElementwise() ? width == 1 || soFar == 1 || width == soFar : width == 1;
        };
    }

    private Type commonType(BlockType type, Map<String, String> settings) {
        boolean any = type.face(new Settings(type, settings)).inputs().stream().anyMatch(in -> in.accept() == Accept.ANY);
        if (type.id().equals("bits") || type.id().equals("shift")) {
            boolean unsigned = settings.getOrDefault("direction", "").startsWith("rotate");
            return INTEGERS[unsigned ? 1 + 2 * random.nextInt(3) : random.nextInt(6)];
        }
        int n = random.nextInt(any ? 14 : 12);
        return n < 6 ? real : n < 12 ? INTEGERS[n - 6] : Type.BOOL;
    }

    private Map<String, String> settings(BlockType type) {
        Map<String, String> settings = new HashMap<>();
        for (Parameter p : type.parameters()) {
            switch (p.kind()) {
                case CHOICE -> settings.put(p.name(), p.choices().get(random.nextInt(p.choices().size())));
                case REAL, REALS -> real(type, p, settings);
                default -> { }
            }
        }
        if (type.hasParameter("signs")) {
            String two = type.id().equals("sum") ? "+-" : "*/";
            var signs = new StringBuilder();
            for (int i = 0; i < 1 + random.nextInt(3); i++) {
                signs.append(two.charAt(random.nextInt(2)));
            }
            settings.put("signs", signs.toString());
        }
        switch (type.id()) {
            case "lookup" -> settings.putAll(Map.of("x", "[-5, -1, 0.5, 4]", "y", "[2, -1, 3, 0]"));
            case "two-input lookup" -> settings.putAll(Map.of("x", "[-5, -1, 4]", "y", "[-3, 2]", "z", "[[0, 1], [2, -1], [4, 3]]"));
            case "transfer" -> settings.putAll(Map.of("num", random.nextBoolean() ? "[1]" : "[0.5, 1]", "den",
                    random.nextBoolean() ? "[0.1, 1]" : "[0.01, 0.2, 1]"));
            case "state space", "state space in z" -> settings.putAll(Map.of("A", "[[-0.5, 0.1], [0, -0.25]]", "B", "[[1], [0.5]]", "C",
                    "[[1, 0], [0, 1]]", "D", random.nextBoolean() ? "[[0], [0]]" : "[[1], [0]]", "x0", "[1, 0]"));
            case "zero-pole" -> settings.putAll(Map.of("zeros", "[-3]", "poles", "[-1]", "pole pairs", "[[-2, 5]]"));
            case "fir" -> settings.put("b", random.nextBoolean() ? "[0.5, 0.25]" : "[0.5, 0.25, -0.125, 1]");
            case "biquads" -> settings.put("sections", "[[1, 0.5, 0.25, -0.3, 0.1], [0.5, 0, 1, 0.2, 0.05]]");
            case "transfer in z" -> settings.putAll(Map.of("b", random.nextBoolean() ? "[0, 1]" : "[0.5, 1]", "a", "[2, -0.5, 0.25]"));
            case "constant" -> {
                if (random.nextInt(3) == 0) {
                    settings.put("value", "[1, 0]");
                }
            }
            case "gain" -> settings.put("k", Integer.toString(random.nextInt(4)));
            case "matrix" -> settings.put("K", "[[1, 2], [0, 0.5], [-1, 0]]");
            case "pick" -> settings.put("elements", "[1]");
            case "split" -> settings.put("outputs", "2");
            case "pack bits" -> settings.put("type", "uint32");
            case "playback" -> settings.put("data", "time,value\n0,1\n0.01,-2\n0.03,4\n");
            case "delay of n" -> settings.put("n", Integer.toString(1 + random.nextInt(5)));
            case "st" -> settings.put("text", TEXTS[random.nextInt(TEXTS.length)]);
            case "modes" -> settings.put("text", CHARTS[random.nextInt(CHARTS.length)]);
            case "expression" -> settings.put("expression", new String[] {"a * SIN(b) + a", "MAX(a, b) / (c + 1.5)", "a > b",
                    "LIMIT(-1.0, a ** 2.0, 3.0)"}
                    [random.nextInt(4)]);
            default -> { }
        }
        return settings;
    }

    /** Small whole numbers, so that they suit every type, ordered where a low meets a high. */
    private void real(BlockType type, Parameter p, Map<String, String> settings) {
        double least = Math.max(p.minimum(), -4);
        double greatest = Math.min(p.maximum(), 4);
        String value = Integer.toString((int) Math.rint(least + random.nextDouble() * (greatest - least)));
        switch (p.name()) {
            case "low" -> settings.put("low", Integer.toString(-1 - random.nextInt(3)));
            case "high" -> settings.put("high", Integer.toString(1 + random.nextInt(3)));
            case "tf" -> settings.put("tf", "20 ms");
            case "period" -> settings.put("period", "7 ms");
            case "share" -> settings.put("share", "0.3");
            case "at" -> settings.put(p.name(), "13 ms");
            case "frequency" -> settings.put("frequency", "17 Hz");
            case "limit" -> settings.put("limit", "6");
            case "PT" -> settings.put("PT", "7 ms");
            case "time" -> settings.put("time", "3 ms");
            case "value" -> settings.put("value", type.hasParameter("type") && "bool".equals(settings.get("type")) ? "on"
                    : Integer.toString(random.nextInt(5)));
            default -> {
                if (FREE.contains(p.name())) {
                    settings.put(p.name(), value);
                }
            }
        }
    }
}
