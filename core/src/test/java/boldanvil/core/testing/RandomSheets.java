package boldanvil.core.testing;

import boldanvil.core.program.Type;
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

/**
 * Makes random valid parts of all block types, types and rates. Every output either feeds others or leaves the part, loops go
 * through delays, and the same seed makes the same part.
 */
public final class RandomSheets {
    private record Source(String end, Type type) {}

    private final Random random;
    private final PartBuilder part;
    private final List<Source> sources = new ArrayList<>();
    private final boolean continuous;
    private final Type real;
    private int count;

    private RandomSheets(long seed) {
        random = new Random(seed);
        part = new PartBuilder("p" + Long.toUnsignedString(seed));
        continuous = random.nextInt(4) == 0;
        real = random.nextInt(3) == 0 ? Type.FLOAT32 : Type.FLOAT64;
        part.real(real.label());
        if (continuous) {
            part.plant("2 ms", random.nextBoolean() ? "rk4" : "euler");
        } else {
            part.sampleTime("1 ms");
        }
    }

    /** A part with about as many blocks as wanted. */
    public static PartBuilder part(long seed, int blocks) {
        return new RandomSheets(seed).build(blocks);
    }

    private PartBuilder build(int blocks) {
        for (Type t : new Type[] {real, real, Type.INT32, Type.UINT16, Type.BOOL}) {
            String name = "in" + count++;
            part.block(name, "inlet", "type=" + (t == real ? "real" : t.label()));
            sources.add(new Source(name + ".y", t));
        }
        List<BlockType> ordinary = Stock.all().stream().filter(t -> t.role() == BlockType.Role.ORDINARY
                || t.role() == BlockType.Role.CONSTANT).filter(t -> continuous ? !t.discreteOnly() : true).toList();
        for (int i = 0; i < blocks; i++) {
            add(ordinary.get(random.nextInt(ordinary.size())));
        }
        for (int i = 0; i < 8; i++) {
            String name = "out" + count++;
            part.block(name, "outlet");
            part.wire(pick(null).end(), name + ".u");
        }
        return part;
    }

    private Source pick(Type wanted) {
        List<Source> fitting = sources.stream().filter(s -> wanted == null || s.type() == wanted).toList();
        // Newer sources more often, so that chains grow long.
        int n = fitting.size();
        return fitting.get(n - 1 - (int) (Math.abs(random.nextGaussian()) * n / 3) % n);
    }

    private void add(BlockType type) {
        Map<String, String> settings = settings(type);
        var s = new Settings(type, settings);
        Face face = type.face(s);
        Type common = commonType(type);
        String name = type.id().replace(' ', '_') + count++;
        List<String> texts = new ArrayList<>();
        settings.forEach((k, v) -> texts.add(k + "=" + v));
        if (!continuous && type.role() != BlockType.Role.CONSTANT && !type.continuousOnly() && random.nextInt(4) == 0) {
            texts.add("sample time=" + new String[] {"1 ms", "2 ms", "5 ms"}[random.nextInt(3)]);
        }
        part.block(name, type.id(), texts.toArray(String[]::new));
        List<Type> types = new ArrayList<>();
        for (Face.In in : face.inputs()) {
            Type t = in.accept() == Accept.LOGIC ? Type.BOOL : in.accept() == Accept.REAL ? real : common;
            types.add(in.accept() == Accept.LOGIC ? null : t);
            if (!in.optional() || random.nextBoolean()) {
                part.wire(pick(t).end(), name + "." + in.name());
            }
        }
        Type out = type.typeOf(types, s, real);
        for (String o : face.outputs()) {
            sources.add(new Source(name + "." + o, out));
        }
    }

    private Type commonType(BlockType type) {
        boolean logic = type.face(new Settings(type, Map.of())).inputs().stream().anyMatch(in -> in.accept() == Accept.ANY);
        Type[] some = {real, real, real, Type.INT32, Type.UINT16, Type.BOOL};
        return some[random.nextInt(logic ? 6 : 5)];
    }

    private Map<String, String> settings(BlockType type) {
        Map<String, String> settings = new HashMap<>();
        for (Parameter p : type.parameters()) {
            switch (p.kind()) {
                case CHOICE -> settings.put(p.name(), p.choices().get(random.nextInt(p.choices().size())));
                case REAL -> real(type, p, settings);
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
        if (type.id().equals("lookup")) {
            settings.put("x", "[-5, -1, 0.5, 4]");
            settings.put("y", "[2, -1, 3, 0]");
        }
        if (type.id().equals("transfer")) {
            settings.put("num", random.nextBoolean() ? "[1]" : "[0.5, 1]");
            settings.put("den", random.nextBoolean() ? "[0.1, 1]" : "[0.01, 0.2, 1]");
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
            case "at", "delay" -> settings.put(p.name(), "13 ms");
            case "frequency" -> settings.put("frequency", "17 Hz");
            case "limit" -> settings.put("limit", "6");
            case "value" -> settings.put("value", type.hasParameter("type") && "bool".equals(settings.get("type")) ? "on"
                    : Integer.toString(random.nextInt(5)));
            default -> settings.put(p.name(), value);
        }
    }
}
