package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.hipparchus.special.Erf;

/** How the values of something that varies are spread. Values are SI. */
public sealed interface Spread {
    /**
     * The value below which a share of all values lies.
     *
     * @param p above 0, below 1
     */
    double quantile(double p);

    /** Every value of a range is as likely as every other. */
    record Uniform(double low, double high) implements Spread {
        @Override
        public double quantile(double p) {
            return low + p * (high - low);
        }
    }

    /** The normal distribution. */
    record Normal(double mean, double deviation) implements Spread {
        @Override
        public double quantile(double p) {
            return mean + deviation * normal(p);
        }
    }

    /** The quantile of the normal distribution with mean 0 and standard deviation 1. */
    static double normal(double p) {
        return Math.sqrt(2) * Erf.erfInv(2 * p - 1);
    }

    /** Values of the normal distribution that lie below a number, as a share. */
    static double below(double z) {
        return 0.5 * Erf.erfc(-z / Math.sqrt(2));
    }

    Pattern NORMAL = Pattern.compile("\\s*normal\\s*\\((.*),(.*)\\)\\s*");

    /**
     * The spread a text states: {@code 1 mm : 5 mm} or {@code normal(3 mm, 0.5 mm)}, with mean and standard deviation.
     *
     * @param variables what the expressions may use
     * @throws FindingException at {@code name}
     */
    static Spread of(String name, String text, Map<String, Quantity> variables) {
        String cure = "Write a range, 1 mm : 5 mm, or normal(3 mm, 0.5 mm) with mean and standard deviation.";
        try {
            Matcher m = NORMAL.matcher(text);
            if (m.matches()) {
                double deviation = Formula.evaluate(m.group(2), variables);
                if (!(deviation >= 0)) {
                    throw FindingException.of(name, "The standard deviation '" + m.group(2).strip() + "' is below 0.", cure);
                }
                return new Normal(Formula.evaluate(m.group(1), variables), deviation);
            }
            String[] ends = text.split(":");
            if (ends.length < 2) {
                throw FindingException.of(name, "'" + text.strip() + "' is neither a range nor a distribution.", cure);
            }
            return new Uniform(Formula.evaluate(ends[0], variables), Formula.evaluate(ends[1], variables));
        } catch (FormulaException e) {
            throw FindingException.of(name, "'" + text.strip() + "': " + e.getMessage(), cure);
        }
    }
}
