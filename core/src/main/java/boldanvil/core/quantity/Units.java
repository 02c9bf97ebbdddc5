package boldanvil.core.quantity;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Units by the symbols engineers write (The International System of Units, 9th edition, 2019, tables 1 to 8), with prefixes, products,
 * quotients, powers and brackets: {@code mm²}, {@code V/(rad/s)}, {@code kg·m^2}. A prefix belongs to its symbol and is raised to a power
 * with it. Some are written in several ways, as a keyboard allows: {@code ohm}, {@code us}, {@code mm2}, {@code N*m}.
 */
public final class Units {
    private static final int LONGEST = 60;
    private static final int MOST_POWER = 9;
    private static final int DEEPEST = 8;
    private static final int KEPT = 10_000;
    private static final Map<String, Optional<Unit>> KNOWN = new ConcurrentHashMap<>();
    private static final Map<String, Double> PREFIXES = new LinkedHashMap<>();
    private static final Map<String, Unit> SYMBOLS = new HashMap<>();
    /** Symbols that take prefixes. */
    private static final Map<String, Unit> PREFIXED = new HashMap<>();

    static {
        Object[][] prefixes = {{"da", 1e1}, {"Y", 1e24}, {"Z", 1e21}, {"E", 1e18}, {"P", 1e15}, {"T", 1e12}, {"G", 1e9}, {"M", 1e6},
                {"k", 1e3},
            {"h", 1e2}, {"d", 1e-1}, {"c", 1e-2}, {"m", 1e-3}, {"µ", 1e-6}, {"u", 1e-6}, {"n", 1e-9}, {"p", 1e-12}, {"f", 1e-15},
            {"a", 1e-18}};
        for (Object[] p : prefixes) {
            PREFIXES.put((String) p[0], (Double) p[1]);
        }
        var none = Dimension.NONE;
        prefixed(1, Dimension.of(0, 1, 0, 0, 0, 0, 0), "m");
        prefixed(1e-3, Dimension.of(1, 0, 0, 0, 0, 0, 0), "g");
        prefixed(1, Dimension.TIME, "s");
        prefixed(1, Dimension.of(0, 0, 0, 1, 0, 0, 0), "A");
        prefixed(1, Dimension.of(0, 0, 0, 0, 1, 0, 0), "K");
        prefixed(1, Dimension.of(0, 0, 0, 0, 0, 1, 0), "mol");
        prefixed(1, Dimension.of(0, 0, 0, 0, 0, 0, 1), "cd", "lm");
        prefixed(1, Dimension.of(0, -2, 0, 0, 0, 0, 1), "lx");
        prefixed(1, none, "rad", "sr");
        prefixed(1, Dimension.of(0, 0, -1, 0, 0, 0, 0), "Hz", "Bq", "Bd");
        prefixed(1, Dimension.of(1, 1, -2, 0, 0, 0, 0), "N");
        prefixed(1, Dimension.of(1, -1, -2, 0, 0, 0, 0), "Pa");
        prefixed(1e5, Dimension.of(1, -1, -2, 0, 0, 0, 0), "bar");
        prefixed(1, Dimension.of(1, 2, -2, 0, 0, 0, 0), "J", "Nm");
        prefixed(3600, Dimension.of(1, 2, -2, 0, 0, 0, 0), "Wh");
        prefixed(1.602176634e-19, Dimension.of(1, 2, -2, 0, 0, 0, 0), "eV");
        prefixed(1, Dimension.of(1, 2, -3, 0, 0, 0, 0), "W", "VA", "var");
        prefixed(1, Dimension.of(0, 0, 1, 1, 0, 0, 0), "C");
        prefixed(3600, Dimension.of(0, 0, 1, 1, 0, 0, 0), "Ah");
        prefixed(1, Dimension.of(1, 2, -3, -1, 0, 0, 0), "V");
        prefixed(1, Dimension.of(-1, -2, 4, 2, 0, 0, 0), "F");
        prefixed(1, Dimension.of(1, 2, -3, -2, 0, 0, 0), "Ω", "ohm");
        prefixed(1, Dimension.of(-1, -2, 3, 2, 0, 0, 0), "S");
        prefixed(1, Dimension.of(1, 2, -2, -1, 0, 0, 0), "Wb", "Vs");
        prefixed(1, Dimension.of(1, 0, -2, -1, 0, 0, 0), "T");
        prefixed(1, Dimension.of(1, 2, -2, -2, 0, 0, 0), "H");
        prefixed(1e-3, Dimension.of(0, 3, 0, 0, 0, 0, 0), "L", "l");
        prefixed(1e3, Dimension.of(1, 0, 0, 0, 0, 0, 0), "t");
        prefixed(1, none, "bit");
        prefixed(2 * Math.PI / 60, Dimension.of(0, 0, -1, 0, 0, 0, 0), "rpm");
        symbol(60, Dimension.TIME, "min");
        symbol(3600, Dimension.TIME, "h");
        symbol(86_400, Dimension.TIME, "d", "day");
        symbol(Math.PI / 180, none, "deg", "°");
        symbol(2 * Math.PI, none, "turn", "rev");
        symbol(0.01, none, "%");
        symbol(1e-6, none, "ppm");
        symbol(1e-9, none, "ppb");
        symbol(6894.757293168361, Dimension.of(1, -1, -2, 0, 0, 0, 0), "psi");
        symbol(9.80665, Dimension.of(0, 1, -2, 0, 0, 0, 0), "gn");
        symbol(1, none, "1");
        SYMBOLS.put("°C", new Unit(Dimension.of(0, 0, 0, 0, 1, 0, 0), 1, 273.15, false));
        SYMBOLS.put("degC", SYMBOLS.get("°C"));
        SYMBOLS.put("dB", Unit.DECIBEL);
    }

    private Units() {}

    private static void prefixed(double factor, Dimension d, String... symbols) {
        symbol(factor, d, symbols);
        for (String s : symbols) {
            PREFIXED.put(s, Unit.of(d, factor));
        }
    }

    private static void symbol(double factor, Dimension d, String... symbols) {
        for (String s : symbols) {
            SYMBOLS.put(s, Unit.of(d, factor));
        }
    }

    /** Whether the text names a unit, {@code mm} or {@code N·m/A} for example. */
    public static boolean isUnit(String text) {
        return find(text).isPresent();
    }

    /** The unit a text names; an empty text is that of pure numbers. */
    public static Optional<Unit> find(String text) {
        if (KNOWN.size() > KEPT) {
            KNOWN.clear();
        }
        return KNOWN.computeIfAbsent(text.strip(), Units::read);
    }

    /** The unit a text names; that of pure numbers where it names none, as labels such as {@code counts} do. */
    public static Unit orOne(String text) {
        return find(text).orElse(Unit.ONE);
    }

    /** An SI value in a unit; unchanged where the text names no unit. */
    public static double fromSi(String unit, double value) {
        return orOne(unit).fromSi(value);
    }

    /** A value in a unit, in SI; unchanged where the text names no unit. */
    public static double toSi(String unit, double value) {
        return orOne(unit).toSi(value);
    }

    /** One symbol with or without a prefix; empty where it is none. */
    static Optional<Unit> symbol(String given) {
        String s = given.replace('\u2126', 'Ω').replace('\u03BC', 'µ');
        Unit own = SYMBOLS.get(s);
        if (own != null) {
            return Optional.of(own);
        }
        for (var p : PREFIXES.entrySet()) {
            if (s.startsWith(p.getKey())) {
                Unit u = PREFIXED.get(s.substring(p.getKey().length()));
                if (u != null) {
                    return Optional.of(Unit.of(u.dimension(), p.getValue() * u.factor()));
                }
            }
        }
        return Optional.empty();
    }

    private static Optional<Unit> read(String text) {
        if (text.isEmpty()) {
            return Optional.of(Unit.ONE);
        }
        if (text.length() > LONGEST) {
            return Optional.empty();
        }
        var reader = new Reader(text);
        Unit u = reader.product(0);
        return u == null || reader.at < text.length() ? Optional.empty() : Optional.of(u);
    }

    /** How far a unit at the beginning of a text reaches; 0 where none begins there. */
    static int length(String text) {
        var reader = new Reader(text.length() > LONGEST ? text.substring(0, LONGEST) : text);
        return reader.product(0) == null ? 0 : reader.at;
    }

    /** Reads products and quotients; it stops where no unit continues. */
    private static final class Reader {
        private final String text;
        private int at;

        Reader(String text) {
            this.text = text;
        }

        /** Null where no unit begins. */
        Unit product(int depth) {
            Unit u = factor(depth);
            while (u != null && at < text.length()) {
                int mark = at;
                char op = text.charAt(at);
                if (op != '·' && op != '*' && op != '/' && op != '⋅') {
                    break;
                }
                at++;
                Unit next = factor(depth);
                if (next == null) {
                    at = mark;
                    break;
                }
                u = op == '/' ? u.over(next) : u.times(next);
            }
            return u;
        }

        private Unit factor(int depth) {
            int mark = at;
            Unit u;
            if (at < text.length() && text.charAt(at) == '(' && depth < DEEPEST) {
                at++;
                u = product(depth + 1);
                if (u == null || at >= text.length() || text.charAt(at) != ')') {
                    at = mark;
                    return null;
                }
                at++;
            } else {
                u = atom();
            }
            if (u == null) {
                at = mark;
                return null;
            }
            int n = exponent();
            return n == 1 ? u : u.power(n);
        }

        private Unit atom() {
            int start = at;
            while (at < text.length() && (Character.isLetter(text.charAt(at)) || "%°\u2126".indexOf(text.charAt(at)) >= 0)) {
                at++;
            }
            if (start == 0 && at == 0 && text.startsWith("1")) {
                at++;
            }
            return symbol(text.substring(start, at)).orElse(null);
        }

        /** ², ³, ^2, ^-1, ⁻¹ or 2; 1 where there is none. */
        private int exponent() {
            int mark = at;
            boolean caret = at < text.length() && text.charAt(at) == '^';
            at += caret ? 1 : 0;
            boolean negative = at < text.length() && (caret && text.charAt(at) == '-' || text.charAt(at) == '⁻');
            at += negative ? 1 : 0;
            int digit = at < text.length() ? digit(text.charAt(at)) : -1;
            boolean more = at + 1 < text.length() && digit(text.charAt(at + 1)) >= 0;
            if (digit < 1 || more || digit > MOST_POWER) {
                at = mark;
                return 1;
            }
            at++;
            return negative ? -digit : digit;
        }

        private static int digit(char c) {
            int raised = "⁰¹²³⁴⁵⁶⁷⁸⁹".indexOf(c);
            return raised >= 0 ? raised : c >= '0' && c <= '9' ? c - '0' : -1;
        }
    }
}
