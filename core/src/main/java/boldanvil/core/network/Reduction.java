package boldanvil.core.network;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntToDoubleFunction;
import java.util.stream.Stream;
import org.ejml.data.DMatrixRMaj;
import org.ejml.data.DMatrixSparseCSC;
import org.ejml.data.DMatrixSparseTriplet;
import org.ejml.dense.row.CommonOps_DDRM;
import org.ejml.dense.row.decomposition.lu.LUDecompositionAlt_DDRM;
import org.ejml.dense.row.decomposition.qr.QRColPivDecompositionHouseholderColumn_DDRM;
import org.ejml.interfaces.linsol.LinearSolverSparse;
import org.ejml.ops.DConvertMatrixStruct;
import org.ejml.sparse.FillReducing;
import org.ejml.sparse.csc.CommonOps_DSCC;
import org.ejml.sparse.csc.decomposition.lu.LuUpLooking_DSCC;
import org.ejml.sparse.csc.factory.LinearSolverFactory_DSCC;

/**
 * Solves the equations of a network for the rates of its states. Where states depend on each other (capacitors in a loop, inductors at a
 * net of their own), the equations are singular; the dependence is found in their left null space, one state is expressed by the others,
 * and the rate of the dependence takes the place of an equation that says nothing new (index reduction: Mattsson and Söderlind, SIAM J.
 * Sci. Comput. 14, 1993, here with constant factors).
 */
public final class Reduction {
    /** A pivot below counts as zero, once rows and columns are scaled to about one. */
    private static final double SMALL = 1e-13;
    /** Rounding leaves factors of about this size where there are none. */
    private static final double NOISE = 1e-14;

    /** Equations beyond are solved as sparse ones. */
    private static final int MOST_DENSE = 400;

    private final Assembly assembly;
    private final int potentials;
    private final int unknowns;
    private final int stored;
    /** Signals and functions. */
    private final int inputs;
    private final int size;
    /** How each state follows from states, inputs and the constant; states that are free follow from themselves. */
    private double[][] follows;
    private DMatrixRMaj left;
    private DMatrixRMaj right;

    private Reduction(Assembly assembly) {
        this.assembly = assembly;
        potentials = assembly.potentials();
        unknowns = assembly.unknowns();
        stored = assembly.states().size();
        inputs = assembly.inputs().size() + assembly.functions().size();
        size = potentials + unknowns + stored;
    }

    /**
     * Solves a network for all positions of its switches.
     *
     * @param assembly closed; its findings get what is wrong
     * @return empty when there is a finding
     */
    public static Optional<Network> solve(Assembly assembly) {
        int switches = assembly.switches().size();
        if (assembly.findings().stream().anyMatch(Finding::isError)) {
            return Optional.empty();
        }
        if (switches > Assembly.MOST_SWITCHES) {
            assembly.findings().add(Finding.error(Place.sheet(assembly.switches().getLast().path()), "The network has " + switches
                    + " switches; at most " + Assembly.MOST_SWITCHES + " can be solved in one network.",
                    "Divide the network, or use averaged bridges."));
            return Optional.empty();
        }
        Network first = null;
        List<Network.Position> positions = new ArrayList<>();
        for (int on = 0; on < 1 << switches; on++) {
            var r = new Reduction(assembly);
            if (!r.reduce(on)) {
                return Optional.empty();
            }
            for (int k = 0; k < r.stored; k++) {
                if (assembly.states().get(k).shadow() && r.follows[k][k] == 1) {
                    String path = assembly.states().get(k).path();
                    assembly.findings().add(Finding.error(Place.sheet(path), "Nothing stores the speed at '"
                            + path.substring(path.lastIndexOf('/') + 1) + "'.",
                            "Connect an Inertia or a Mass to its contacts, without a spring between them."));
                    return Optional.empty();
                }
            }
            Network one = r.network(on);
            if (first != null && !first.states().equals(one.states())) {
                assembly.findings().add(Finding.error(Place.sheet(assembly.switches().getFirst().path()),
                        "What is stored in the network depends on the position of its switches.",
                        "Give the switches an on-resistance and an off-conductance."));
                return Optional.empty();
            }
            first = first == null ? one : first;
            positions.addAll(one.positions());
        }
        agree(positions);
        return Optional.of(new Network(first.states(), first.inputs(), first.functions(), first.outputs(), first.switches(),
                first.carriers(), positions));
    }

    /** Factors that differ between positions by rounding only become the same, so that what does not depend on the switches is seen to. */
    private static void agree(List<Network.Position> positions) {
        List<List<double[]>> rows = positions.stream().map(p -> Stream.of(Arrays.stream(p.rates()),
                Arrays.stream(p.outputs()), Arrays.stream(p.arguments()).flatMap(Arrays::stream))
                .flatMap(x -> x).toList()).toList();
        for (int r = 0; r < rows.getFirst().size(); r++) {
            double[] first = rows.getFirst().get(r);
            for (int c = 0; c < first.length; c++) {
                int row = r;
                int column = c;
                if (rows.stream().allMatch(p -> Math.abs(p.get(row)[column] - first[column]) <= 1e-12 * Math.abs(first[column]))) {
                    rows.forEach(p -> p.get(row)[column] = first[column]);
                }
            }
        }
    }

    /** Builds the equations in a position: left · (potentials, unknowns, rates) = right · (states, inputs, 1). */
    private void build(int on) {
        left = new DMatrixRMaj(size, size);
        right = new DMatrixRMaj(size, stored + inputs + 1);
        follows = new double[stored][stored + inputs + 1];
        int row = 0;
        for (var e : assembly.equations()) {
            put(e.at(on), row++);
        }
        for (int k = 0; k < stored; k++) {
            put(assembly.states().get(k).stored(), row);
            right.add(row++, k, 1);
            follows[k][k] = 1;
        }
        if (row != size) {
            throw new IllegalStateException("The network has " + (row - stored) + " equations for " + (size - stored) + " variables.");
        }
    }

    /** The column of a signal or function on the right side. */
    private int column(Variable v) {
        return stored + v.number() + (v.kind() == Variable.Kind.FUNCTION ? assembly.inputs().size() : 0);
    }

    private void put(Form f, int row) {
        f.forEach((v, k) -> {
            switch (v.kind()) {
                case POTENTIAL -> left.add(row, v.number(), k);
                case UNKNOWN -> left.add(row, potentials + v.number(), k);
                case RATE -> left.add(row, potentials + unknowns + v.number(), k);
                case INPUT, FUNCTION -> right.add(row, column(v), -k);
            }
        });
        right.add(row, stored + inputs, -f.constant());
    }

    private boolean reduce(int on) {
        build(on);
        for (int round = 0; round <= stored; round++) {
            double[] rows = new double[size];
            double[] columns = new double[size];
            DMatrixRMaj scaled = scale(rows, columns);
            if (solve(scaled, rows, columns)) {
                return true;
            }
            if (!dependence(scaled, rows)) {
                return false;
            }
        }
        return false;
    }

    /** The left side with rows and columns of about one; gives the factors. */
    private DMatrixRMaj scale(double[] rows, double[] columns) {
        DMatrixRMaj m = left.copy();
        Arrays.fill(rows, 1);
        Arrays.fill(columns, 1);
        for (int sweep = 0; sweep < 4; sweep++) {
            scale(m, rows, true);
            scale(m, columns, false);
        }
        return m;
    }

    /** Scales each row, or each column, by the root of its greatest entry. */
    private void scale(DMatrixRMaj m, double[] factors, boolean rows) {
        for (int i = 0; i < size; i++) {
            double most = 0;
            for (int j = 0; j < size; j++) {
                most = Math.max(most, Math.abs(rows ? m.get(i, j) : m.get(j, i)));
            }
            double f = most == 0 ? 1 : 1 / Math.sqrt(most);
            factors[i] *= f;
            for (int j = 0; j < size; j++) {
                int at = rows ? m.getIndex(i, j) : m.getIndex(j, i);
                m.data[at] *= f;
            }
        }
    }

    /** Solves for all variables into {@link #right}; false when the equations are singular. */
    private boolean solve(DMatrixRMaj scaled, double[] rows, double[] columns) {
        if (size > MOST_DENSE) {
            return solveSparse(scaled, rows, columns);
        }
        var lu = new LUDecompositionAlt_DDRM();
        if (size > 0 && !lu.decompose(scaled.copy())) {
            return false;
        }
        DMatrixRMaj packed = lu.getLU();
        double most = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i < size; i++) {
            most = Math.max(most, Math.abs(packed.get(i, i)));
            least = Math.min(least, Math.abs(packed.get(i, i)));
        }
        if (size > 0 && !(least > SMALL * most)) {
            return false;
        }
        DMatrixRMaj solved = right.copy();
        CommonOps_DDRM.multRows(rows, solved);
        double[] column = new double[size];
        for (int c = 0; c < solved.getNumCols(); c++) {
            int number = c;
            substitute(packed, lu.getPivot(), i -> solved.get(i, number), column);
            refine(scaled, packed, lu.getPivot(), i -> solved.get(i, number), column);
            store(column, columns, solved, c);
        }
        right = solved;
        return true;
    }

    /** Puts a solution into a column, without what rounding left. */
    private void store(double[] solution, double[] columns, DMatrixRMaj into, int column) {
        double largest = 0;
        for (double v : solution) {
            largest = Math.max(largest, Math.abs(v));
        }
        for (int i = 0; i < size; i++) {
            into.set(i, column, Math.abs(solution[i]) < NOISE * largest ? 0 : solution[i] * columns[i]);
        }
    }

    /** The same for a large network, most factors of which are zero. Flows and rates go first, so that few new ones arise. */
    private boolean solveSparse(DMatrixRMaj scaled, double[] rows, double[] columns) {
        var entries = new DMatrixSparseTriplet(size, size, 4 * size);
        for (int i = 0; i < size; i++) {
            for (int j = 0; j < size; j++) {
                double v = scaled.get(i, j);
                if (v != 0) {
                    entries.addItem(i, place(j), v);
                }
            }
        }
        DMatrixSparseCSC sparse = DConvertMatrixStruct.convert(entries, (DMatrixSparseCSC) null);
        LinearSolverSparse<DMatrixSparseCSC, DMatrixRMaj> solver = LinearSolverFactory_DSCC.lu(FillReducing.NONE);
        if (!solver.setA(sparse.copy())) {
            return false;
        }
        LuUpLooking_DSCC lu = solver.getDecomposition();
        DMatrixSparseCSC upper = lu.getU();
        double most = 0;
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i < size; i++) {
            most = Math.max(most, Math.abs(upper.get(i, i)));
            least = Math.min(least, Math.abs(upper.get(i, i)));
        }
        if (!(least > SMALL * most)) {
            return false;
        }
        DMatrixRMaj solved = right.copy();
        CommonOps_DDRM.multRows(rows, solved);
        var x = new DMatrixRMaj(size, solved.getNumCols());
        solver.solve(solved, x);
        // Once more for what is left, so that a factor of one is one.
        var rest = new DMatrixRMaj(size, solved.getNumCols());
        CommonOps_DSCC.mult(sparse, x, rest);
        CommonOps_DDRM.subtract(solved, rest, rest);
        var change = new DMatrixRMaj(size, solved.getNumCols());
        solver.solve(rest, change);
        CommonOps_DDRM.addEquals(x, change);
        double[] column = new double[size];
        for (int c = 0; c < solved.getNumCols(); c++) {
            for (int j = 0; j < size; j++) {
                column[j] = x.get(place(j), c);
            }
            store(column, columns, solved, c);
        }
        right = solved;
        return true;
    }

    /** Where a variable is among those of a sparse solution: flows, rates, potentials. */
    private int place(int variable) {
        return variable < potentials ? unknowns + stored + variable : variable - potentials;
    }

    /** Solves once more for what is left, so that a factor of one is one. */
    private void refine(DMatrixRMaj scaled, DMatrixRMaj packed, int[] pivot, IntToDoubleFunction right, double[] x) {
        double[] rest = new double[size];
        substitute(packed, pivot, i -> right.applyAsDouble(i) - product(scaled, i, x), rest);
        for (int i = 0; i < size; i++) {
            x[i] += rest[i];
        }
    }

    private double product(DMatrixRMaj m, int row, double[] x) {
        double sum = 0;
        for (int j = 0; j < size; j++) {
            sum += m.get(row, j) * x[j];
        }
        return sum;
    }

    private void substitute(DMatrixRMaj lu, int[] pivot, IntToDoubleFunction right, double[] x) {
        for (int i = 0; i < size; i++) {
            double sum = right.applyAsDouble(pivot[i]);
            for (int j = 0; j < i; j++) {
                sum -= lu.get(i, j) * x[j];
            }
            x[i] = sum;
        }
        for (int i = size - 1; i >= 0; i--) {
            double sum = x[i];
            for (int j = i + 1; j < size; j++) {
                sum -= lu.get(i, j) * x[j];
            }
            x[i] = sum / lu.get(i, i);
        }
    }

    /** Finds a dependence between states and removes one of them; false, with a finding, when sources contradict each other. */
    private boolean dependence(DMatrixRMaj scaled, double[] rows) {
        var qr = new QRColPivDecompositionHouseholderColumn_DDRM();
        qr.decompose(scaled.copy());
        DMatrixRMaj q = qr.getQ(null, false);
        double[] weights = new double[size];
        for (int i = 0; i < size; i++) {
            double w = q.get(i, size - 1);
            weights[i] = Math.abs(w) < 1e-9 ? 0 : w * rows[i];
        }
        double[] sum = new double[stored + inputs + 1];
        double[] terms = new double[sum.length];
        for (int i = 0; i < size; i++) {
            for (int c = 0; c < sum.length; c++) {
                sum[c] += weights[i] * right.get(i, c);
                terms[c] = Math.max(terms[c], Math.abs(weights[i] * right.get(i, c)));
            }
        }
        int chosen = -1;
        for (int k = 0; k < stored; k++) {
            if (Math.abs(sum[k]) > 1e-9 * terms[k] && (chosen < 0 || isRather(k, chosen, sum))) {
                chosen = k;
            }
        }
        if (chosen < 0) {
            contradiction(weights);
            return false;
        }
        for (int u = 0; u < inputs; u++) {
            if (Math.abs(sum[stored + u]) > 1e-9 * terms[stored + u]) {
                String path = assembly.states().get(chosen).path();
                assembly.findings().add(Finding.error(Place.sheet(path), "A signal sets what '" + path.substring(path.lastIndexOf('/') + 1)
                        + "' stores, through " + Assembly.named(Set.of(origin(u)))
                        + ", so its flow would be infinite when the signal jumps.",
                        "Put a resistance, or a damper, between them."));
                return false;
            }
        }
        eliminate(chosen, sum, weights);
        return true;
    }

    /**
     * Whether one state is removed rather than another: one that only follows, or else the one with the larger factor. Of equal
     * ones it is the first, in all positions of the switches.
     */
    private boolean isRather(int k, int other, double[] sum) {
        boolean shadow = assembly.states().get(k).shadow();
        return shadow == assembly.states().get(other).shadow() ? Math.abs(sum[k]) > (1 + 1e-6) * Math.abs(sum[other]) : shadow;
    }

    /** The element a signal or function belongs to. */
    private String origin(int input) {
        int signals = assembly.inputs().size();
        if (input >= signals) {
            return assembly.functions().get(input - signals).path();
        }
        var i = assembly.inputs().get(input);
        return i.signal() != null ? i.signal().path() : assembly.switches().get(i.alone()).path();
    }

    /** State {@code j} follows from the others: Σ sum[k]·s[k] + sum[constant] = 0. */
    private void eliminate(int j, double[] sum, double[] weights) {
        double[] by = new double[sum.length];
        for (int c = 0; c < sum.length; c++) {
            by[c] = c == j || c >= stored && c < stored + inputs ? 0 : -sum[c] / sum[j];
        }
        for (int i = 0; i < size; i++) {
            double f = right.get(i, j);
            right.set(i, j, 0);
            for (int c = 0; c < by.length; c++) {
                right.add(i, c, f * by[c]);
            }
        }
        for (double[] row : follows) {
            double f = row[j];
            row[j] = 0;
            for (int c = 0; c < by.length; c++) {
                row[c] += f * by[c];
            }
        }
        int spare = 0;
        for (int i = 1; i < size; i++) {
            spare = Math.abs(weights[i]) > Math.abs(weights[spare]) ? i : spare;
        }
        for (int c = 0; c < size; c++) {
            left.set(spare, c, 0);
        }
        for (int c = 0; c < right.getNumCols(); c++) {
            right.set(spare, c, 0);
        }
        int rates = potentials + unknowns;
        left.set(spare, rates + j, 1);
        for (int k = 0; k < stored; k++) {
            left.add(spare, rates + k, -by[k]);
        }
    }

    private void contradiction(double[] weights) {
        Set<String> paths = new LinkedHashSet<>();
        for (int i = 0; i < assembly.equations().size(); i++) {
            if (weights[i] != 0) {
                paths.add(assembly.equations().get(i).path());
            }
        }
        assembly.findings().add(Finding.error(Place.sheet(paths.isEmpty() ? "" : paths.iterator().next()),
                "These elements fix the same quantity, or leave one open: " + Assembly.named(paths) + ".",
                "Remove one of the sources that are joined directly, or put a resistance between them."));
    }

    private Network network(int on) {
        List<Integer> free = new ArrayList<>();
        for (int k = 0; k < stored; k++) {
            if (follows[k][k] == 1) {
                free.add(k);
            }
        }
        double[][] rates = new double[free.size()][];
        for (int i = 0; i < rates.length; i++) {
            rates[i] = row(potentials + unknowns + free.get(i), free);
        }
        double[][] outputs = assembly.outputs().stream().map(o -> row(o.form(), free)).toArray(double[][]::new);
        double[][] conducts = new double[assembly.switches().size()][];
        for (var w : assembly.switches()) {
            boolean isOn = (on >> w.number() & 1) != 0;
            conducts[w.number()] = w.how().isOwn() ? row(isOn ? w.how().own().stays() : w.how().own().starts(), free) : null;
        }
        double[][][] arguments = assembly.functions().stream()
                .map(f -> f.arguments().stream().map(a -> row(a, free)).toArray(double[][]::new)).toArray(double[][][]::new);
        return new Network(free.stream().map(k -> new Network.State(assembly.states().get(k).path(), assembly.states().get(k).initial()))
                .toList(), assembly.inputs(),
                assembly.functions().stream().map(f -> new Network.Function(f.path(), f.curve(), f.arguments().size(), f.isPower()))
                        .toList(),
                assembly.outputs().stream().map(Assembly.Output::signal).toList(),
                assembly.switches().stream().map(s -> new Network.Switch(s.path(), s.how(), s.carrier()))
                .toList(),
                assembly.carriers(), List.of(new Network.Position(rates, outputs, conducts, arguments)));
    }

    /** A variable by free states, inputs and the constant. */
    private double[] row(int variable, List<Integer> free) {
        double[] row = new double[free.size() + inputs + 1];
        for (int i = 0; i < free.size(); i++) {
            row[i] = right.get(variable, free.get(i));
        }
        for (int c = 0; c <= inputs; c++) {
            row[free.size() + c] = right.get(variable, stored + c);
        }
        return row;
    }

    private double[] row(Form f, List<Integer> free) {
        double[] row = new double[free.size() + inputs + 1];
        double[] size = new double[row.length];
        f.forEach((v, k) -> {
            double[] one = switch (v.kind()) {
                case POTENTIAL -> row(v.number(), free);
                case UNKNOWN -> row(potentials + v.number(), free);
                case RATE -> row(potentials + unknowns + v.number(), free);
                case INPUT, FUNCTION -> {
                    double[] u = new double[row.length];
                    u[free.size() + column(v) - stored] = 1;
                    yield u;
                }
            };
            for (int i = 0; i < row.length; i++) {
                row[i] += k * one[i];
                size[i] = Math.max(size[i], Math.abs(k * one[i]));
            }
        });
        for (int i = 0; i < row.length; i++) {
            row[i] = Math.abs(row[i]) < 1e-13 * size[i] ? 0 : row[i];
        }
        row[row.length - 1] += f.constant();
        return row;
    }
}
