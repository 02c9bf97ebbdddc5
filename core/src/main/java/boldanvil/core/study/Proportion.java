package boldanvil.core.study;

/**
 * A share of runs, with the interval in which the share of all possible runs lies with a confidence of 95 % (E. B. Wilson, Probable
 * Inference, the Law of Succession, and Statistical Inference, J. Amer. Statist. Assoc. 22, 1927). It holds for points that were drawn at
 * random, not for a grid.
 *
 * @param share 0 to 1
 */
public record Proportion(double share, double low, double high) {
    /** @param of number of runs, 1 or more */
    public static Proportion of(int hits, int of) {
        double z = Spread.normal(0.975);
        double p = hits / (double) of;
        double middle = (p + z * z / (2 * of)) / (1 + z * z / of);
        double half = z / (1 + z * z / of) * Math.sqrt(p * (1 - p) / of + z * z / (4.0 * of * of));
        return new Proportion(p, hits == 0 ? 0 : middle - half, hits == of ? 1 : middle + half);
    }
}
