package boldanvil.core.lower;

import boldanvil.core.maths.Derivative;
import boldanvil.core.network.Network;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.stock.Emitter;
import java.nio.DoubleBuffer;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Computes the functions of a network that are not linear. Their arguments follow from states, inputs and the functions themselves. Where
 * no function depends on itself they are computed one after the other, else by Newton's method with the derivatives of the expressions.
 */
final class NetworkFunctions {
    /** How an argument depends on a function; null where it does not. */
    interface Coupling {
        Expr factor(int argument, int function);
    }

    private final Network network;
    private final Emitter e;
    private final String prefix;
    private final List<Slot> values;
    private final List<Slot> arguments = new ArrayList<>();
    private final List<Integer> firsts = new ArrayList<>();
    private final List<Expr> results = new ArrayList<>();
    /** How each argument depends on each function; null where it does not. Made once, since each may be a table. */
    private final Expr[][] couplings;

    /**
     * @param values gets the value of each function; holds a guess before
     */
    NetworkFunctions(Network network, Emitter e, String prefix, List<Slot> values, Coupling coupling) {
        this.network = network;
        this.e = e;
        this.prefix = prefix;
        this.values = values;
        // What several functions have as an argument is computed once.
        Map<List<DoubleBuffer>, Slot> known = new HashMap<>();
        for (int f = 0; f < network.functions().size(); f++) {
            firsts.add(arguments.size());
            List<Expr> mine = new ArrayList<>();
            for (int a = 0; a < count(f); a++) {
                arguments.add(known.computeIfAbsent(rows(f, a).stream().map(DoubleBuffer::wrap).toList(),
                        _ -> e.local(prefix + "argument_" + (arguments.size() + 1), e.real())));
                mine.add(Expr.read(arguments.getLast()));
            }
            results.add(network.functions().get(f).curve().of(mine));
        }
        couplings = new Expr[arguments.size()][values.size()];
        for (int a = 0; a < couplings.length; a++) {
            for (int f = 0; f < couplings[a].length; f++) {
                couplings[a][f] = coupling.factor(a, f);
            }
        }
    }

    /** How arguments depend on functions while the states stand. */
    static Coupling direct(Network n, Emitter e, String prefix, Expr position) {
        return (argument, function) -> {
            int number = 0;
            for (int f = 0; f < n.functions().size(); f++) {
                int mine = argument - number;
                if (mine < n.functions().get(f).arguments()) {
                    int owner = f;
                    double[] all = n.positions().stream()
                            .mapToDouble(p -> p.arguments()[owner][mine][n.firstFunction() + function]).toArray();
                    return NetworkSwitches.choice(e, prefix, all, position);
                }
                number += n.functions().get(f).arguments();
            }
            throw new IllegalArgumentException("There is no argument " + argument + ".");
        };
    }

    /**
     * Statements that compute the functions.
     *
     * @param at states, inputs, nothing for the functions, and one
     * @param rounds the most steps of Newton's method
     * @param accuracy share of its value by which no function may change in the last of them; what is left is about the square of it
     */
    List<Stmt> solve(List<Expr> at, Expr position, int rounds, double accuracy) {
        List<Stmt> all = new ArrayList<>();
        Map<Slot, Slot> bases = new HashMap<>();
        for (int f = 0; f < network.functions().size(); f++) {
            for (int a = 0; a < count(f); a++) {
                Slot argument = arguments.get(firsts.get(f) + a);
                if (!bases.containsKey(argument)) {
                    bases.put(argument, e.local(prefix + "base_" + (bases.size() + 1), e.real()));
                    all.add(set(bases.get(argument), NetworkSwitches.row(e, prefix, rows(f, a), position, at)));
                }
            }
        }
        List<Integer> order = order();
        Set<Slot> done = new HashSet<>();
        if (order.size() == values.size()) {
            for (int f : order) {
                all.addAll(arguments(f, bases, done));
                all.add(set(values.get(f), results.get(f)));
            }
            return all;
        }
        all.add(new Stmt.Repeat(e.counter(prefix + "newton"), rounds, round(bases, accuracy), e.origin()));
        return all;
    }

    /** Factors of an argument for each position of the switches. */
    private List<double[]> rows(int function, int argument) {
        return network.positions().stream().map(p -> p.arguments()[function][argument]).toList();
    }

    private Stmt set(Slot s, Expr v) {
        return new Stmt.Assign(s, v, e.origin());
    }

    private int count(int function) {
        return network.functions().get(function).arguments();
    }

    private boolean depends(int function, int on) {
        for (int a = 0; a < count(function); a++) {
            if (couplings[firsts.get(function) + a][on] != null) {
                return true;
            }
        }
        return false;
    }

    /** Functions in such an order that each depends on earlier ones only; those in a loop are missing. */
    private List<Integer> order() {
        List<Integer> done = new ArrayList<>();
        for (int pass = 0; pass < values.size(); pass++) {
            for (int f = 0; f < values.size(); f++) {
                int mine = f;
                if (!done.contains(f) && java.util.stream.IntStream.range(0, values.size())
                        .allMatch(on -> done.contains(on) || !depends(mine, on))) {
                    done.add(f);
                }
            }
        }
        return done;
    }

    /** @param done arguments that are known already */
    private List<Stmt> arguments(int function, Map<Slot, Slot> bases, Set<Slot> done) {
        List<Stmt> all = new ArrayList<>();
        for (int a = 0; a < count(function); a++) {
            int number = firsts.get(function) + a;
            if (!done.add(arguments.get(number))) {
                continue;
            }
            Expr sum = Expr.read(bases.get(arguments.get(number)));
            for (int f = 0; f < values.size(); f++) {
                Expr factor = couplings[number][f];
                if (factor != null) {
                    sum = sum.plus(factor.times(Expr.read(values.get(f))));
                }
            }
            all.add(set(arguments.get(number), sum));
        }
        return all;
    }

    /** One step of Newton's method. */
    private List<Stmt> round(Map<Slot, Slot> bases, double accuracy) {
        int n = values.size();
        List<Stmt> all = new ArrayList<>();
        Set<Slot> done = new HashSet<>();
        for (int f = 0; f < n; f++) {
            all.addAll(arguments(f, bases, done));
        }
        Expr[][] matrix = new Expr[n][n];
        Slot[] by = new Slot[n];
        for (int f = 0; f < n; f++) {
            by[f] = e.local(prefix + "change_" + (f + 1), e.real());
            all.add(set(by[f], results.get(f).minus(Expr.read(values.get(f)))));
            for (int a = 0; a < count(f); a++) {
                int number = firsts.get(f) + a;
                if (arguments.subList(firsts.get(f), number).contains(arguments.get(number))) {
                    continue;
                }
                Expr d = Derivative.of(results.get(f), arguments.get(number));
                if (!(d instanceof Expr.Literal l && l.value() == 0)) {
                    Slot slope = e.local(prefix + "slope_" + (number + 1), e.real());
                    all.add(set(slope, d));
                    subtract(matrix[f], number, Expr.read(slope));
                }
            }
            matrix[f][f] = matrix[f][f] == null ? Expr.of(e.real(), 1) : matrix[f][f].plus(Expr.of(e.real(), 1));
        }
        all.addAll(eliminate(matrix, by));
        Expr close = Expr.of(true);
        for (int f = 0; f < n; f++) {
            all.add(set(values.get(f), Expr.read(values.get(f)).plus(Expr.read(by[f]))));
            Expr bound = Expr.read(values.get(f)).call(Intrinsic.ABS).times(accuracy).plus(Expr.of(e.real(), 1e-5 * accuracy));
            close = close.and(Expr.read(by[f]).call(Intrinsic.ABS).compare(Op.LE, bound));
        }
        all.add(new Stmt.If(close, List.of(new Stmt.Break(e.origin())), List.of(), e.origin()));
        return all;
    }

    private void subtract(Expr[] row, int argument, Expr slope) {
        for (int j = 0; j < row.length; j++) {
            Expr factor = couplings[argument][j];
            if (factor != null) {
                Expr term = slope.times(factor).negated();
                row[j] = row[j] == null ? term : row[j].plus(term);
            }
        }
    }

    /** Gaussian elimination without row exchange, written out; entries that are null are zero. The solution is in {@code b} afterwards. */
    private List<Stmt> eliminate(Expr[][] matrix, Slot[] b) {
        int n = b.length;
        List<Stmt> all = new ArrayList<>();
        Expr[][] m = new Expr[n][];
        for (int i = 0; i < n; i++) {
            m[i] = matrix[i].clone();
            for (int j = 0; j < n; j++) {
                m[i][j] = kept(all, m[i][j], i, j);
            }
        }
        for (int k = 0; k < n; k++) {
            for (int i = k + 1; i < n; i++) {
                if (m[i][k] != null) {
                    Slot f = e.local(prefix + "by_" + (k + 1) + "_" + (i + 1), e.real());
                    all.add(set(f, m[i][k].over(m[k][k])));
                    for (int j = k + 1; j < n; j++) {
                        if (m[k][j] != null) {
                            Expr term = Expr.read(f).times(m[k][j]);
                            m[i][j] = kept(all, m[i][j] == null ? term.negated() : m[i][j].minus(term), i, j);
                        }
                    }
                    all.add(set(b[i], Expr.read(b[i]).minus(Expr.read(f).times(Expr.read(b[k])))));
                }
            }
        }
        for (int i = n - 1; i >= 0; i--) {
            Expr sum = Expr.read(b[i]);
            for (int j = i + 1; j < n; j++) {
                if (m[i][j] != null) {
                    sum = sum.minus(m[i][j].times(Expr.read(b[j])));
                }
            }
            all.add(set(b[i], m[i][i] instanceof Expr.Literal l && l.value() == 1 ? sum : sum.over(m[i][i])));
        }
        return all;
    }

    private Expr kept(List<Stmt> all, Expr value, int i, int j) {
        if (value == null || value instanceof Expr.Literal || value instanceof Expr.Read) {
            return value;
        }
        Slot s = e.local(prefix + "m_" + (i + 1) + "_" + (j + 1), e.real());
        all.add(set(s, value));
        return Expr.read(s);
    }
}
