package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Type;
import java.util.List;

/** Timers and counters as IEC 61131-3:2013, sections 6.6.3.5.4 and 6.6.3.5.3, defines them. */
final class Timers {
    private static final Type INT = Type.INT32;
    private static final Parameter PT = real("PT", "1 s", "s", "The preset time; it is rounded to whole samples.").atLeast(0);

    static final BlockType TON = BlockType.named("ton", "On-delay timer", Family.TIME).picture(Pictures::onDelay)
            .help("TON: Q becomes true when IN has been true for the time PT, and false with IN. ET is the time IN has been true, up to PT "
                    + "(IEC 61131-3).")
            .with(PT).face(Face.NONE.in("IN", Accept.LOGIC).out("Q").out("ET")).summary("on after {PT}").types(Timers::timer).discreteOnly()
            .does(e -> {
                int n = samples(e);
                var count = e.state("count", INT, 0);
                var now = e.temp("now", Expr.read(count).when(e.in("IN"), whole(0)));
                e.output("Q", e.in("IN").and(now.compare(Op.GE, whole(n))));
                e.output("ET", elapsed(e, now, n));
                e.update(count, now.plus(whole(1)).min(whole(n)).when(e.in("IN"), whole(0)));
            });

    static final BlockType TOF = BlockType.named("tof", "Off-delay timer", Family.TIME).picture(Pictures::offDelay)
            .help("TOF: Q becomes true with IN, and false when IN has been false for the time PT. ET is the time since IN became false, "
            + "up to "
                    + "PT (IEC 61131-3).")
            .with(PT).face(Face.NONE.in("IN", Accept.LOGIC).out("Q").out("ET")).summary("off after {PT}").types(Timers::timer)
            .discreteOnly()
            .does(e -> {
                int n = samples(e);
                var count = e.state("count", INT, 0);
                var runs = e.state("runs", Type.BOOL, 0);
                var active = e.temp("active", e.in("IN").or(Expr.read(runs).and(Expr.read(count).lt(whole(n)))));
                e.output("Q", active);
                // After it has run out, ET stays at PT until IN comes again; before the first time it is 0.
                var now = e.temp("now", whole(0).when(e.in("IN"), Expr.read(count)));
                e.output("ET", elapsed(e, now, n));
                e.update(count, now.plus(whole(1)).min(whole(n)).when(active.and(e.in("IN").not()), now));
                e.update(runs, active);
            });

    static final BlockType TP = BlockType.named("tp", "Pulse timer", Family.TIME).picture(Pictures::pulseTimer)
            .help("TP: a rising edge of IN starts a pulse of length PT at Q, which cannot be shortened or prolonged. ET is the time since "
            + "its "
                    + "start, and goes back to 0 when the pulse is over and IN is false (IEC 61131-3).")
            .with(PT).face(Face.NONE.in("IN", Accept.LOGIC).out("Q").out("ET")).summary("pulse of {PT}").types(Timers::timer).discreteOnly()
            .does(e -> {
                int n = samples(e);
                var count = e.state("count", INT, 0);
                var runs = e.state("runs", Type.BOOL, 0);
                var last = e.state("last", Type.BOOL, 0);
                var starts = e.in("IN").and(Expr.read(last).not()).and(Expr.read(runs).not());
                var began = e.temp("began", starts);
                var now = e.temp("now", whole(0).when(began, Expr.read(count)));
                var active = e.temp("active", began.or(Expr.read(runs)).and(now.lt(whole(n))));
                e.output("Q", active);
                var shown = e.temp("shown", whole(0).when(active.not().and(e.in("IN").not()), now));
                e.output("ET", elapsed(e, shown, n));
                e.update(count, shown.plus(whole(1)).min(whole(n)).when(active, shown));
                e.update(runs, active);
                e.update(last, e.in("IN"));
            });

    static final BlockType CTU = BlockType.named("ctu", "Up counter", Family.TIME)
            .help("CTU: CV rises by one with each rising edge of CU and is 0 while R is true; Q = CV ≥ PV (IEC 61131-3).")
            .with(real("PV", "10", "1", "The preset value.").atLeast(-2e9).atMost(2e9))
            .face(Face.NONE.in("CU", Accept.LOGIC).optional("R", Accept.LOGIC).out("Q").out("CV")).summary("up to {PV}")
            .types(Timers::counter)
            .discreteOnly()
            .does(e -> {
                var value = e.state("value", INT, 0);
                var up = rising(e, "CU");
                var counted = Expr.read(value).plus(whole(1)).when(up.and(Expr.read(value).lt(whole(Integer.MAX_VALUE))), Expr.read(value));
                var now = e.temp("now", whole(0).when(e.in("R"), counted));
                e.output("Q", now.compare(Op.GE, preset(e)));
                e.output("CV", now);
                e.update(value, now);
            });

    static final BlockType CTD = BlockType.named("ctd", "Down counter", Family.TIME)
            .help("CTD: CV falls by one with each rising edge of CD and is PV while LD is true; Q = CV ≤ 0 (IEC 61131-3).")
            .with(real("PV", "10", "1", "The preset value.").atLeast(-2e9).atMost(2e9))
            .face(Face.NONE.in("CD", Accept.LOGIC).optional("LD", Accept.LOGIC).out("Q").out("CV")).summary("down from {PV}")
            .types(Timers::counter).discreteOnly()
            .does(e -> {
                var value = e.state("value", INT, 0);
                var down = rising(e, "CD");
                var counted = Expr.read(value).minus(whole(1)).when(down.and(Expr.read(value).gt(whole(Integer.MIN_VALUE))),
                        Expr.read(value));
                var now = e.temp("now", preset(e).when(e.in("LD"), counted));
                e.output("Q", now.compare(Op.LE, whole(0)));
                e.output("CV", now);
                e.update(value, now);
            });

    static final BlockType CTUD = BlockType.named("ctud", "Up-down counter", Family.TIME)
            .help("CTUD: CV rises with CU and falls with CD; where both rise at once it stays. R makes it 0 and has precedence over LD, "
            + "which "
                    + "makes it PV. QU = CV ≥ PV, QD = CV ≤ 0 (IEC 61131-3).")
            .with(real("PV", "10", "1", "The preset value.").atLeast(-2e9).atMost(2e9))
            .face(Face.NONE.in("CU", Accept.LOGIC).in("CD", Accept.LOGIC).optional("R", Accept.LOGIC).optional("LD", Accept.LOGIC).out("QU")
                    .out("QD").out("CV")).summary("to {PV}").types((o, _, _, _) -> o < 2 ? Type.BOOL : INT).discreteOnly()
            .does(e -> {
                var value = e.state("value", INT, 0);
                var up = e.temp("up", rising(e, "CU"));
                var down = e.temp("down", rising(e, "CD"));
                var v = Expr.read(value);
                var higher = v.plus(whole(1)).when(v.lt(whole(Integer.MAX_VALUE)), v);
                var lower = v.minus(whole(1)).when(v.gt(whole(Integer.MIN_VALUE)), v);
                var counted = v.when(up.compare(Op.EQ, down), higher.when(up, lower));
                var now = e.temp("now", whole(0).when(e.in("R"), preset(e).when(e.in("LD"), counted)));
                e.output("QU", now.compare(Op.GE, preset(e)));
                e.output("QD", now.compare(Op.LE, whole(0)));
                e.output("CV", now);
                e.update(value, now);
            });

    static final List<BlockType> TYPES = List.of(TON, TOF, TP, CTU, CTD, CTUD);

    private Timers() {}

    private static Type timer(int output, List<Type> inputs, Settings s, Type real) {
        return output == 0 ? Type.BOOL : real;
    }

    private static Type counter(int output, List<Type> inputs, Settings s, Type real) {
        return output == 0 ? Type.BOOL : INT;
    }

    private static Expr whole(long n) {
        return Expr.of(INT, n);
    }

    private static int samples(Emitter e) {
        double n = Math.rint(e.value("PT") / e.sampleTime());
        if (n > 2e9) {
            e.problem("PT lasts more than 2·10⁹ samples.", "Choose a shorter time, or a longer sample time.");
        }
        return (int) Math.min(n, 2e9);
    }

    private static Expr elapsed(Emitter e, Expr count, int n) {
        Type t = e.typeOf("ET");
        // At the end exactly PT, whatever the rounding to samples.
        return Expr.of(t, e.value("PT")).when(count.compare(Op.GE, whole(n)), count.as(t).times(e.sampleTime()));
    }

    private static Expr preset(Emitter e) {
        return whole((long) Math.rint(e.value("PV")));
    }

    private static Expr rising(Emitter e, String port) {
        var last = e.state("last_" + port, Type.BOOL, 0);
        var edge = e.temp("edge_" + port, e.in(port).and(Expr.read(last).not()));
        e.update(last, e.in(port));
        return edge;
    }
}
