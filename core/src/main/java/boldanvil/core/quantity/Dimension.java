package boldanvil.core.quantity;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * What kind of quantity a value is, such as a length or a current, as powers of the seven base units of the SI (The International System
 * of Units, 9th edition, 2019). Angles count as pure numbers.
 */
public final class Dimension {
    private static final String[] BASE = {"kg", "m", "s", "A", "K", "mol", "cd"};
    private static final double SAME = 1e-9;

    /** A pure number. */
    public static final Dimension NONE = of(0, 0, 0, 0, 0, 0, 0);
    public static final Dimension TIME = of(0, 0, 1, 0, 0, 0, 0);

    /** Kinds that have a name and a unit of their own. */
    private static final Map<Dimension, String[]> NAMED = named();

    private final double[] powers;

    private Dimension(double[] powers) {
        this.powers = powers;
    }

    /** Powers of kilogram, metre, second, ampere, kelvin, mole and candela. */
    static Dimension of(double... powers) {
        return new Dimension(powers.clone());
    }

    private static Map<Dimension, String[]> named() {
        Map<Dimension, String[]> all = new LinkedHashMap<>();
        Object[][] table = {{NONE, "a pure number", "1"}, {TIME, "a time", "s"}, {of(0, 1, 0, 0, 0, 0, 0), "a length", "m"},
            {of(1, 0, 0, 0, 0, 0, 0), "a mass", "kg"}, {of(0, 0, 0, 1, 0, 0, 0), "a current", "A"},
            {of(0, 0, 0, 0, 1, 0, 0), "a temperature", "K"},
            {of(0, 0, -1, 0, 0, 0, 0), "a frequency", "1/s"}, {of(0, 1, -1, 0, 0, 0, 0), "a velocity", "m/s"},
            {of(0, 1, -2, 0, 0, 0, 0), "an acceleration", "m/s²"}, {of(1, 1, -2, 0, 0, 0, 0), "a force", "N"},
            {of(1, 2, -2, 0, 0, 0, 0), "a torque or an energy", "N·m"}, {of(1, 2, -3, 0, 0, 0, 0), "a power", "W"},
            {of(1, -1, -2, 0, 0, 0, 0), "a pressure", "Pa"}, {of(1, 2, -3, -1, 0, 0, 0), "a voltage", "V"},
            {of(1, 2, -3, -2, 0, 0, 0), "a resistance", "Ω"}, {of(1, 2, -2, -2, 0, 0, 0), "an inductance", "H"},
            {of(-1, -2, 4, 2, 0, 0, 0), "a capacitance", "F"}, {of(0, 0, 1, 1, 0, 0, 0), "a charge", "C"},
            {of(1, 2, -2, -1, 0, 0, 0), "a magnetic flux", "Wb"}, {of(1, 0, -2, -1, 0, 0, 0), "a flux density", "T"},
            {of(0, 2, 0, 0, 0, 0, 0), "an area", "m²"}, {of(0, 3, 0, 0, 0, 0, 0), "a volume", "m³"},
            {of(0, 3, -1, 0, 0, 0, 0), "a flow", "m³/s"}, {of(1, 2, 0, 0, 0, 0, 0), "a moment of inertia", "kg·m²"}};
        for (Object[] row : table) {
            all.put((Dimension) row[0], new String[] {(String) row[1], (String) row[2]});
        }
        return all;
    }

    /** The dimension of a unit; empty for an empty text or one that is not a unit. */
    public static Optional<Dimension> of(String unitText) {
        return unitText.isBlank() ? Optional.empty() : Units.find(unitText).map(Unit::dimension);
    }

    public Dimension times(Dimension other) {
        double[] p = powers.clone();
        for (int i = 0; i < p.length; i++) {
            p[i] += other.powers[i];
        }
        return new Dimension(p);
    }

    public Dimension over(Dimension other) {
        return times(other.power(-1));
    }

    /** This kind to a power, which need not be whole. */
    public Dimension power(double n) {
        double[] p = powers.clone();
        for (int i = 0; i < p.length; i++) {
            p[i] = p[i] == 0 ? 0 : p[i] * n;
        }
        return new Dimension(p);
    }

    /** Whether values of both can be added. */
    public boolean fits(Dimension other) {
        for (int i = 0; i < powers.length; i++) {
            if (Math.abs(powers[i] - other.powers[i]) > SAME) {
                return false;
            }
        }
        return true;
    }

    public boolean isNone() {
        return fits(NONE);
    }

    /** The SI unit as people write it; empty for a pure number. */
    public String unit() {
        String[] known = NAMED.get(this);
        if (known != null) {
            return isNone() ? "" : known[1];
        }
        var above = new StringBuilder();
        var below = new StringBuilder();
        int divisors = 0;
        for (int i = 0; i < powers.length; i++) {
            if (Math.abs(powers[i]) > SAME) {
                var into = powers[i] > 0 ? above : below;
                into.append(into.isEmpty() ? "" : "·").append(BASE[i]).append(exponent(Math.abs(powers[i])));
                divisors += powers[i] < 0 ? 1 : 0;
            }
        }
        String top = above.isEmpty() ? "1" : above.toString();
        return below.isEmpty() ? top : top + "/" + (divisors > 1 ? "(" + below + ")" : below);
    }

    /** The SI unit as it is written behind a number in an expression, {@code m·s^-2}; empty for a pure number. */
    public String factors() {
        var text = new StringBuilder();
        for (int i = 0; i < powers.length; i++) {
            if (Math.abs(powers[i]) > SAME) {
                if (powers[i] != Math.rint(powers[i]) || Math.abs(powers[i]) > 9) {
                    return "";
                }
                text.append(text.isEmpty() ? "" : "·").append(BASE[i]).append(powers[i] == 1 ? "" : "^" + (long) powers[i]);
            }
        }
        return text.toString();
    }

    /** What it is and its SI unit, in words: {@code a length (m)}. */
    public String label() {
        String[] known = NAMED.get(this);
        return isNone() ? "a pure number" : known == null ? "a quantity in " + unit() : known[0] + " (" + known[1] + ")";
    }

    private static String exponent(double p) {
        return p == 1 ? "" : p == 2 ? "²" : p == 3 ? "³" : "^" + (p == Math.rint(p) ? Long.toString((long) p) : Double.toString(p));
    }

    @Override
    public boolean equals(Object o) {
        return o instanceof Dimension d && fits(d);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(Arrays.stream(powers).mapToLong(p -> Math.round(p * 1000)).toArray());
    }

    @Override
    public String toString() {
        return label();
    }
}
