package boldanvil.core.lower;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Program;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Writes the integration of the continuous states as IR, so that it runs as Java and as C alike.
 *
 * <p>Explicit methods: tableaux in Hairer, Nørsett and Wanner, Solving Ordinary Differential Equations I, 1993 (Euler, Heun,
 * classical Runge–Kutta, Dormand–Prince 5(4)), and Bogacki and Shampine, A 3(2) pair of Runge–Kutta formulas, 1989. Stiff plants:
 * the two-stage Rosenbrock method ROS2 with γ = 1 − 1/√2, L-stable, second order whatever the Jacobian's error (Verwer, Spee,
 * Blom and Hundsdorfer, SIAM J. Sci. Comput. 20, 1999).
 *
 * <p>The class is long on purpose: every method works on the slots of one attempt of a step, and divided it would only pass them around.
 */
final class SolverWriter {
    private static final String EVENTS = "events";
    private static final String ATTEMPT = "attempt";
    private static final double[][] NONE = {{}};
    private static final double[][] DP_A = {{}, {1.0 / 5}, {3.0 / 40, 9.0 / 40}, {44.0 / 45, -56.0 / 15, 32.0 / 9},
        {19372.0 / 6561, -25360.0 / 2187, 64448.0 / 6561, -212.0 / 729},
        {9017.0 / 3168, -355.0 / 33, 46732.0 / 5247, 49.0 / 176, -5103.0 / 18656},
        {35.0 / 384, 0, 500.0 / 1113, 125.0 / 192, -2187.0 / 6784, 11.0 / 84}};
    private static final double[] DP_C = {0, 0.2, 0.3, 0.8, 8.0 / 9, 1, 1};
    /** What the embedded fourth-order result differs by. */
    private static final double[] DP_E = {71.0 / 57600, 0, -71.0 / 16695, 71.0 / 1920, -17253.0 / 339200, 22.0 / 525, -1.0 / 40};
    /** Tries per tick; beyond, the plant is stiff or switches without end. */
    private static final int MOST_STEPS = 20_000;
    /** Events that are located in one step; more are let happen at the end of the step. */
    private static final int MOST_EVENTS = 100;

    private final Solver method;
    private final List<Slot> states;
    private final Map<Slot, Slot> derivativeOf;
    private final Slot time;
    private final List<Expr> crossings;
    private final Origin origin;
    private final ProgramWriter writer;
    private final Type type;
    private final List<Slot> crossingValues = new ArrayList<>();
    private final List<Slot> crossingBefore = new ArrayList<>();
    private final Events events;
    /** Length of the step that is tried, in seconds; and in the part's real type. */
    private Slot h;
    private Slot hReal;
    private List<Slot> start;
    private Slot from;
    private Slot reach;
    private Slot reachAtStart;
    private Slot error;
    private List<List<Slot>> k;

    /**
     * @param time the time slot, or null when no block reads it
     * @param crossings real values at whose zeros the right-hand side breaks; only the variable step looks for them
     * @param events what happens at an instant
     */
    SolverWriter(Solver method, List<Slot> states, Map<Slot, Slot> derivativeOf, Slot time, List<Expr> crossings, Events events,
            Origin origin,
            ProgramWriter writer) {
        this.method = method;
        this.states = states;
        this.derivativeOf = derivativeOf;
        this.time = time;
        this.crossings = crossings;
        this.events = events;
        this.origin = origin;
        this.writer = writer;
        this.type = writer.resolver().real();
    }

    /** The length of a step: known when the code is made, or in a slot. */
    private interface Length {
        /** A share of the length, of the part's real type. */
        Expr real(double share);

        /** One over a share of the length. */
        Expr inverse(double share);

        /** A share of the length in seconds, float64. */
        Expr seconds(double share);
    }

    private Length fixed(double h) {
        return new Length() {
            @Override
            public Expr real(double share) {
                return of(share * h);
            }

            @Override
            public Expr inverse(double share) {
                return of(1 / (share * h));
            }

            @Override
            public Expr seconds(double share) {
                return Expr.of(share * h);
            }
        };
    }

    private Length tried() {
        return new Length() {
            @Override
            public Expr real(double share) {
                return Expr.read(hReal).times(share);
            }

            @Override
            public Expr inverse(double share) {
                return of(1).over(real(share));
            }

            @Override
            public Expr seconds(double share) {
                return Expr.read(h).times(share);
            }
        };
    }

    private boolean isVariable() {
        return method == Solver.DP54;
    }

    /** Whether steps are divided where something happens within them. */
    private boolean isDivided() {
        return !events.isEmpty() || isVariable() && !crossings.isEmpty();
    }

    /** Procedures the steps call. */
    List<Procedure> procedures() {
        List<Procedure> all = new ArrayList<>();
        if (!isVariable() && !isDivided()) {
            return all;
        }
        h = local("h", Type.FLOAT64);
        hReal = local("h_real", type);
        start = locals("start");
        from = time == null ? null : local("start_time", Type.FLOAT64);
        if (isDivided()) {
            reach = local("reach", type);
            all.add(new Procedure(EVENTS, "Progress of the event that the solver searches within a step; positive once it has happened.",
                    reached()));
        }
        List<Stmt> body = new ArrayList<>();
        body.add(assign(hReal, Expr.read(h).as(type)));
        if (isVariable()) {
            dormandPrince(body);
        } else {
            copy(body, states, start);
            timeAt(body, from, Expr.of(0.0));
            step(body, tried(), start);
            body.add(new Stmt.Invoke(Program.OUTPUTS, origin));
        }
        if (isDivided()) {
            body.add(new Stmt.Invoke(EVENTS, origin));
        }
        all.add(new Procedure(ATTEMPT, "One trial step of the solver.", body));
        return all;
    }

    /** The greatest of all values that are positive once something has happened. */
    private List<Stmt> reached() {
        List<Stmt> body = new ArrayList<>();
        List<Expr> guards = new ArrayList<>(events.guards());
        for (Expr c : isVariable() ? crossings : List.<Expr>of()) {
            var now = local("crossing_" + (crossingValues.size() + 1), c.type());
            var was = local(now.name() + "_before", c.type());
            crossingValues.add(now);
            crossingBefore.add(was);
            body.add(assign(now, c));
            var zero = Expr.of(c.type(), 0);
            var none = Expr.of(c.type(), Double.NEGATIVE_INFINITY);
            guards.add(Expr.read(now).negated().when(Expr.read(was).gt(zero), Expr.read(now).when(Expr.read(was).lt(zero), none)).as(type));
        }
        body.add(assign(reach, guards.getFirst()));
        for (Expr g : guards.subList(1, guards.size())) {
            var other = local("guard", type);
            body.add(assign(other, g));
            body.add(assign(reach, Expr.read(reach).max(Expr.read(other))));
        }
        return body;
    }

    /** Statements that take every state over {@code span} seconds, in {@code substeps} equal steps where the step is fixed. */
    List<Stmt> steps(double span, int substeps) {
        double length = span / substeps;
        List<Stmt> body = new ArrayList<>();
        if (isVariable()) {
            variable(body, span);
            return body;
        }
        if (isDivided()) {
            divided(body, length);
        } else {
            step(body, fixed(length), null);
            if (!events.follows().isEmpty()) {
                body.add(new Stmt.Invoke(Program.OUTPUTS, origin));
                body.addAll(events.follows());
            }
        }
        return substeps == 1 ? body : List.of(new Stmt.Repeat(local("substep", Type.INT32), substeps, body, origin));
    }

    /** One step of a method with fixed steps; {@code begin} holds the states it starts from, or is null where the states do. */
    private void step(List<Stmt> body, Length length, List<Slot> begin) {
        switch (method) {
            case EULER -> explicit(body, length, begin, NONE, new double[] {0}, new double[] {1});
            case HEUN -> explicit(body, length, begin, new double[][] {{}, {1}}, new double[] {0, 1}, new double[] {0.5, 0.5});
            case BS3 -> explicit(body, length, begin, new double[][] {{}, {0.5}, {0, 0.75}}, new double[] {0, 0.5, 0.75},
                    new double[] {2.0 / 9, 1.0 / 3, 4.0 / 9});
            case RK4 -> explicit(body, length, begin, new double[][] {{}, {0.5}, {0, 0.5}, {0, 0, 1}}, new double[] {0, 0.5, 0.5, 1},
                    new double[] {1.0 / 6, 1.0 / 3, 1.0 / 3, 1.0 / 6});
            case ROS2 -> rosenbrock(body, length, begin);
            case DP54 -> throw new IllegalStateException("the steps of dp54 have no fixed length");
        }
    }

    private void explicit(List<Stmt> body, Length length, List<Slot> begin, double[][] a, double[] c, double[] b) {
        List<Slot> first = begin == null ? locals("start") : begin;
        Slot since = begin == null ? startTime(body) : from;
        List<List<Slot>> slopes = new ArrayList<>();
        for (int stage = 0; stage < b.length; stage++) {
            if (stage > 0) {
                move(body, first, slopes, a[stage], length);
                timeAt(body, since, length.seconds(c[stage]));
            }
            evaluate(body);
            if (stage == 0 && begin == null) {
                copy(body, first, states);
            }
            slopes.add(slopes(body, stage + 1));
        }
        move(body, first, slopes, b, length);
        timeAt(body, since, length.seconds(1));
    }

    /** Slopes of the present stage, in slots of their own. */
    private List<Slot> slopes(List<Stmt> body, int stage) {
        List<Slot> k = locals("k" + stage);
        setSlopes(body, k);
        return k;
    }

    private void setSlopes(List<Stmt> body, List<Slot> k) {
        for (int i = 0; i < k.size(); i++) {
            body.add(assign(k.get(i), slope(i)));
        }
    }

    private void move(List<Stmt> body, List<Slot> begin, List<List<Slot>> slopes, double[] weights, Length length) {
        for (int i = 0; i < states.size(); i++) {
            Expr sum = null;
            for (int s = 0; s < weights.length; s++) {
                if (weights[s] != 0) {
                    var term = Expr.read(slopes.get(s).get(i)).times(length.real(weights[s]));
                    sum = sum == null ? term : sum.plus(term);
                }
            }
            body.add(assign(states.get(i), Expr.read(begin.get(i)).plus(sum)));
        }
    }

    private void rosenbrock(List<Stmt> body, Length length, List<Slot> given) {
        int n = states.size();
        boolean wide = type == Type.FLOAT64;
        double gamma = 1 - Math.sqrt(0.5);
        Slot since = given == null ? startTime(body) : from;
        List<Slot> begin = given == null ? locals("start") : given;
        if (given == null) {
            copy(body, begin, states);
        }
        evaluate(body);
        List<Slot> first = slopes(body, 0);
        Slot jacobian = n == 1 ? local("jacobian", type) : writer.solverArray("jacobian", n * n);
        Slot by = local("by", type);
        for (int column = 0; column < n; column++) {
            Slot x = states.get(column);
            body.add(assign(by, Expr.read(begin.get(column)).call(Intrinsic.ABS).plus(of(1)).times(wide ? 1e-7 : 1e-3)));
            body.add(assign(x, Expr.read(begin.get(column)).plus(Expr.read(by))));
            evaluate(body);
            for (int row = 0; row < n; row++) {
                var slope = slope(row).minus(Expr.read(first.get(row))).over(Expr.read(by));
                body.add(n == 1 ? assign(jacobian, slope) : new Stmt.Store(jacobian, index(row * n + column), slope, origin));
            }
            body.add(assign(x, Expr.read(begin.get(column))));
        }
        List<Slot> drift = drift(body, since, first, length);
        List<Slot> k1 = locals("k1");
        List<Expr> left = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            var f = Expr.read(first.get(i));
            left.add(drift.isEmpty() ? f : f.plus(Expr.read(drift.get(i)).times(length.real(gamma))));
        }
        solve(body, jacobian, length, gamma, left, k1);
        for (int i = 0; i < n; i++) {
            body.add(assign(states.get(i), Expr.read(begin.get(i)).plus(Expr.read(k1.get(i)).times(length.real(1)))));
        }
        timeAt(body, since, length.seconds(1));
        evaluate(body);
        List<Expr> right = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            var f = slope(i).minus(Expr.read(k1.get(i)).times(2));
            right.add(drift.isEmpty() ? f : f.minus(Expr.read(drift.get(i)).times(length.real(gamma))));
        }
        List<Slot> k2 = locals("k2");
        solve(body, jacobian, length, gamma, right, k2);
        move(body, begin, List.of(k1, k2), new double[] {1.5, 0.5}, length);
    }

    /** How the right-hand side changes with time alone; empty where no block reads the time. */
    private List<Slot> drift(List<Stmt> body, Slot since, List<Slot> first, Length length) {
        if (time == null) {
            return List.of();
        }
        double share = type == Type.FLOAT64 ? 1e-4 : 1e-2;
        timeAt(body, since, length.seconds(share));
        evaluate(body);
        List<Slot> drift = locals("drift");
        for (int i = 0; i < drift.size(); i++) {
            body.add(assign(drift.get(i), slope(i).minus(Expr.read(first.get(i))).times(length.inverse(share))));
        }
        return drift;
    }

    /** (I − γ h J) · k = right. */
    private void solve(List<Stmt> body, Slot jacobian, Length length, double gamma, List<Expr> right, List<Slot> k) {
        int n = k.size();
        if (n == 1) {
            body.add(assign(k.getFirst(), right.getFirst().over(of(1).minus(Expr.read(jacobian).times(length.real(gamma))))));
            return;
        }
        Slot a = writer.solverArray("matrix", n * n);
        Slot b = writer.solverArray("right", n);
        Slot at = local("at", Type.INT32);
        Slot diagonal = local("diagonal", Type.INT32);
        body.add(new Stmt.Repeat(at, n * n, List.of(new Stmt.Store(a, Expr.read(at),
                Expr.at(jacobian, Expr.read(at)).times(length.real(-gamma)), origin)), origin));
        var on = Expr.read(diagonal).times(index(n + 1));
        body.add(new Stmt.Repeat(diagonal, n, List.of(new Stmt.Store(a, on, Expr.at(a, on).plus(of(1)), origin)), origin));
        for (int i = 0; i < n; i++) {
            body.add(new Stmt.Store(b, index(i), right.get(i), origin));
        }
        body.addAll(new Elimination(a, b, origin, writer::solverSlot).statements());
        for (int i = 0; i < n; i++) {
            body.add(assign(k.get(i), Expr.at(b, index(i))));
        }
    }

    /** A step of given length, divided where something happens within it. After that, short steps that grow again. */
    private void divided(List<Stmt> body, double span) {
        Slot left = local("left", Type.FLOAT64);
        Slot next = local("next_step", Type.FLOAT64);
        Slot count = local("event_count", Type.INT32);
        body.add(assign(left, Expr.of(span)));
        body.add(assign(next, Expr.of(span)));
        body.add(assign(count, index(0)));
        List<Stmt> step = new ArrayList<>();
        step.add(assign(h, Expr.read(next).min(Expr.read(left))));
        begin(step);
        step.add(new Stmt.Invoke(ATTEMPT, origin));
        List<Stmt> happened = new ArrayList<>();
        happens(happened, count, span);
        happened.add(assign(next, Expr.read(left).when(Expr.read(count).gt(index(MOST_EVENTS)), Expr.of(span / 64))));
        step.add(new Stmt.If(Expr.read(reach).gt(of(0)), happened, List.of(assign(next, Expr.read(next).times(4))), origin));
        step.add(assign(left, Expr.read(left).minus(Expr.read(h))));
        step.addAll(events.follows());
        body.add(new Stmt.While(Expr.read(left).gt(Expr.of(span * 1e-12)), 16 * MOST_EVENTS, step, origin));
    }

    /** Keeps where the step starts. */
    private void begin(List<Stmt> body) {
        copy(body, start, states);
        if (from != null) {
            body.add(assign(from, Expr.read(time)));
        }
        if (isDivided()) {
            body.add(assign(reachAtStart(), Expr.read(reach)));
        }
    }

    private Slot reachAtStart() {
        if (reachAtStart == null) {
            reachAtStart = local("reach_before", type);
        }
        return reachAtStart;
    }

    /**
     * Goes to the instant at which something happened within the step just tried, and lets it happen; where it happens too often, at the
     * step's end.
     */
    private void happens(List<Stmt> body, Slot count, double span) {
        List<Stmt> search = new ArrayList<>();
        locate(search, span);
        body.add(assign(count, Expr.read(count).plus(index(1))));
        body.add(new Stmt.If(Expr.read(count).compare(Expr.Op.LE, index(MOST_EVENTS)), search, events.raises(), origin));
        if (!events.isEmpty()) {
            body.add(new Stmt.Invoke(Events.SETTLE, origin));
        }
        copy(body, crossingBefore, crossingValues);
        body.add(new Stmt.Invoke(EVENTS, origin));
    }

    /**
     * The shortest step at whose end something has happened, found by the regula falsi in the form called Illinois (Dowell and Jarratt, BIT
     * 11, 1971); each third try halves the interval, so that values that only jump are found, too.
     */
    private void locate(List<Stmt> body, double span) {
        double tolerance = span * (type == Type.FLOAT64 ? 1e-10 : 1e-6);
        Slot low = local("low", Type.FLOAT64);
        Slot high = local("high", Type.FLOAT64);
        Slot below = local("below", Type.FLOAT64);
        Slot above = local("above", Type.FLOAT64);
        Slot side = local("side", Type.INT32);
        Slot tries = local("tries", Type.INT32);
        Slot guess = local("guess", Type.FLOAT64);
        body.add(assign(low, Expr.of(0.0)));
        body.add(assign(high, Expr.read(h)));
        body.add(assign(below, Expr.read(reachAtStart()).as(Type.FLOAT64).min(Expr.of(0.0))));
        body.add(assign(above, Expr.read(reach).as(Type.FLOAT64)));
        body.add(assign(side, index(0)));
        var width = Expr.read(high).minus(Expr.read(low));
        List<Stmt> round = new ArrayList<>();
        round.add(new Stmt.If(width.compare(Expr.Op.LE, Expr.of(tolerance)), List.of(new Stmt.Break(origin)), List.of(), origin));
        round.add(assign(guess, Expr.read(low).plus(width.times(Expr.read(below).over(Expr.read(below).minus(Expr.read(above)))))));
        round.add(assign(guess, Expr.read(guess).max(Expr.read(low).plus(Expr.of(tolerance / 2)))));
        round.add(assign(guess, Expr.read(guess).min(Expr.read(high).minus(Expr.of(tolerance / 2)))));
        var inside = Expr.read(guess).gt(Expr.read(low)).and(Expr.read(guess).lt(Expr.read(high)));
        var third = Expr.read(tries).rem(index(3)).eq(index(2));
        round.add(assign(h, Expr.read(guess).when(inside.and(third.not()), Expr.read(low).plus(width.times(0.5)))));
        round.add(new Stmt.Invoke(ATTEMPT, origin));
        List<Stmt> after = new ArrayList<>(List.of(assign(high, Expr.read(h)), assign(above, Expr.read(reach).as(Type.FLOAT64))));
        after.add(new Stmt.If(Expr.read(side).eq(index(1)), List.of(assign(below, Expr.read(below).times(0.5))), List.of(), origin));
        after.add(assign(side, index(1)));
        List<Stmt> before = new ArrayList<>(List.of(assign(low, Expr.read(h)), assign(below, Expr.read(reach).as(Type.FLOAT64))));
        before.add(new Stmt.If(Expr.read(side).eq(index(2)), List.of(assign(above, Expr.read(above).times(0.5))), List.of(), origin));
        before.add(assign(side, index(2)));
        round.add(new Stmt.If(Expr.read(reach).gt(of(0)), after, before, origin));
        body.add(new Stmt.Repeat(tries, 3 * 34, round, origin));
        body.add(assign(h, Expr.read(high)));
        body.add(new Stmt.Invoke(ATTEMPT, origin));
    }

    /**
     * One step of length h from the states at the start, its first slopes being known; sets the error's size, 1 being as much as allowed.
     */
    private void dormandPrince(List<Stmt> body) {
        boolean wide = type == Type.FLOAT64;
        double relative = wide ? 1e-8 : 1e-4;
        double absolute = wide ? 1e-10 : 1e-6;
        error = local("error", type);
        k = new ArrayList<>(List.of(locals("k1")));
        for (int stage = 1; stage < DP_A.length; stage++) {
            for (int i = 0; i < states.size(); i++) {
                body.add(assign(states.get(i), Expr.read(start.get(i)).plus(Expr.read(hReal).times(weighted(k, DP_A[stage], i)))));
            }
            timeAt(body, from, Expr.read(h).times(DP_C[stage]));
            evaluate(body);
            k.add(slopes(body, stage + 1));
        }
        body.add(assign(error, of(0)));
        for (int i = 0; i < states.size(); i++) {
            var size = Expr.read(start.get(i)).call(Intrinsic.ABS).max(Expr.read(states.get(i)).call(Intrinsic.ABS));
            var part = Expr.read(hReal).times(weighted(k, DP_E, i)).call(Intrinsic.ABS).over(size.times(relative).plus(of(absolute)));
            // NaN counts as an error, too.
            var ratio = local("ratio", type);
            body.add(assign(ratio, part));
            body.add(assign(error, Expr.read(error).when(Expr.read(ratio).compare(Expr.Op.LE, Expr.read(error)), Expr.read(ratio))));
        }
    }

    /** Steps as long as the error allows, divided where something happens within them. */
    private void variable(List<Stmt> body, double span) {
        boolean wide = type == Type.FLOAT64;
        double shortest = span * (wide ? 1e-10 : 1e-6);
        Slot next = writer.slot("next_step", Slot.Role.STATE, Type.FLOAT64, span / 10, "solver", "s");
        Slot left = local("left", Type.FLOAT64);
        Slot tries = local("step_tries", Type.INT32);
        Slot refused = local("refused", Type.BOOL);
        Slot factor = local("factor", Type.FLOAT64);
        Slot count = local("event_count", Type.INT32);
        body.add(assign(left, Expr.of(span)));
        body.add(assign(tries, index(0)));
        body.add(assign(count, index(0)));
        evaluate(body);
        setSlopes(body, k.getFirst());
        if (isDivided()) {
            body.add(new Stmt.Invoke(EVENTS, origin));
            copy(body, crossingBefore, crossingValues);
            body.add(new Stmt.Invoke(EVENTS, origin));
        }
        List<Stmt> step = new ArrayList<>();
        // Where steps become too many, the rest is taken in one, and a fault says so: no time is lost.
        step.add(assign(tries, Expr.read(tries).plus(index(1))));
        var last = Expr.read(tries).compare(Expr.Op.GE, index(MOST_STEPS));
        step.add(assign(h, Expr.read(left).when(last, Expr.read(next).min(Expr.read(left)))));
        step.add(new Stmt.If(last, List.of(new Stmt.Raise(Fault.SHORT_STEPS, origin)), List.of(), origin));
        begin(step);
        step.add(new Stmt.Invoke(ATTEMPT, origin));
        var one = of(1);
        step.add(assign(factor, Expr.of(5.0).min(Expr.of(0.2).max(Expr.of(0.9).over(MathFunctions.apply(MathFunctions.POWER,
                Expr.read(error).as(Type.FLOAT64).plus(Expr.of(1e-20)), Expr.of(0.2)))))));
        // Where a value is NaN, a shorter step cannot help.
        step.add(assign(refused, Expr.read(error).gt(one).and(Expr.read(h).gt(Expr.of(shortest))).and(last.not())));
        List<Stmt> refuse = new ArrayList<>();
        copy(refuse, states, start);
        timeAt(refuse, from, Expr.of(0.0));
        if (isDivided()) {
            refuse.add(assign(reach, Expr.read(reachAtStart())));
        }
        refuse.add(assign(next, Expr.read(h).times(Expr.read(factor).min(Expr.of(0.9)))));
        List<Stmt> smooth = new ArrayList<>();
        smooth.add(assign(next, Expr.read(h).times(Expr.read(factor))));
        copy(smooth, k.getFirst(), k.getLast());
        copy(smooth, crossingBefore, crossingValues);
        List<Stmt> accept = new ArrayList<>();
        if (isDivided()) {
            List<Stmt> happened = new ArrayList<>();
            happens(happened, count, span);
            evaluate(happened);
            setSlopes(happened, k.getFirst());
            happened.add(assign(next, Expr.of(span / 100)));
            accept.add(new Stmt.If(Expr.read(reach).gt(of(0)), happened, smooth, origin));
        } else {
            accept.addAll(smooth);
        }
        accept.add(assign(left, Expr.read(left).minus(Expr.read(h))));
        accept.addAll(events.follows());
        step.add(new Stmt.If(Expr.read(refused), refuse, accept, origin));
        body.add(new Stmt.While(Expr.read(left).gt(Expr.of(span * 1e-13)), 2 * MOST_STEPS, step, origin));
        body.add(assign(next, Expr.read(next).max(Expr.of(span * 1e-8)).min(Expr.of(span))));
    }

    private static Expr weighted(List<List<Slot>> k, double[] weights, int state) {
        Expr sum = null;
        for (int s = 0; s < weights.length; s++) {
            if (weights[s] != 0) {
                var term = Expr.read(k.get(s).get(state)).times(weights[s]);
                sum = sum == null ? term : sum.plus(term);
            }
        }
        return sum;
    }

    private void evaluate(List<Stmt> body) {
        body.add(new Stmt.Invoke(Program.OUTPUTS, origin));
        body.add(new Stmt.Invoke(Program.DERIVATIVES, origin));
    }

    private Slot startTime(List<Stmt> body) {
        if (time == null) {
            return null;
        }
        Slot from = local("start_time", Type.FLOAT64);
        body.add(assign(from, Expr.read(time)));
        return from;
    }

    private void timeAt(List<Stmt> body, Slot from, Expr after) {
        if (time != null) {
            body.add(assign(time, Expr.read(from).plus(after)));
        }
    }

    private void copy(List<Stmt> body, List<Slot> to, List<Slot> from) {
        for (int i = 0; i < to.size(); i++) {
            body.add(assign(to.get(i), Expr.read(from.get(i))));
        }
    }

    private Expr slope(int state) {
        return Expr.read(derivativeOf.get(states.get(state)));
    }

    private List<Slot> locals(String suffix) {
        return states.stream().map(x -> local(x.name() + "_" + suffix, x.type())).toList();
    }

    private Slot local(String name, Type t) {
        return writer.solverSlot(name, t);
    }

    private Expr of(double v) {
        return Expr.of(type, v);
    }

    private static Expr index(int i) {
        return Expr.of(Type.INT32, i);
    }

    private Stmt assign(Slot target, Expr value) {
        return new Stmt.Assign(target, value, origin);
    }
}
