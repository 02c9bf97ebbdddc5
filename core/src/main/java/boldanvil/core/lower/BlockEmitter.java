package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Tunable;
import boldanvil.core.program.Type;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.Emitter;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Parameter;
import boldanvil.core.text.Mistake;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;

/** Takes what one block states about its behaviour, for one element of its vectors or for all. */
final class BlockEmitter implements Emitter {
    /** The element of a block that is not repeated for each. */
    static final int ALL = -1;

    private final ProgramWriter writer;
    private final FlatBlock f;
    private final List<Stmt> body;
    private final List<Stmt> updates;
    private final int element;
    private final Origin origin;
    private final Map<String, Slot> liveSlots;

    /**
     * @param body statements of outputs; null for a constant
     * @param element which element of its vectors the block is emitted for, or {@link #ALL}
     * @param liveSlots tunable parameters made so far, shared by all elements
     */
    BlockEmitter(ProgramWriter writer, FlatBlock f, List<Stmt> body, List<Stmt> updates, int element, Map<String, Slot> liveSlots) {
        this.writer = writer;
        this.f = f;
        this.body = body;
        this.updates = updates;
        this.element = element;
        this.origin = Origin.of(f.path());
        this.liveSlots = liveSlots;
    }

    private int index() {
        return Math.max(0, element);
    }

    private String named(String name) {
        return Labels.label(f) + "_" + name + (element == ALL ? "" : "_" + (element + 1));
    }

    @Override
    public Expr in(String port) {
        if (isPin(port)) {
            return Expr.read(writer.pinOf(f, port));
        }
        return element(indexOf(port), index());
    }

    private static boolean isPin(String port) {
        return port.equals("pin") || port.startsWith("pin ");
    }

    private Expr element(int input, int wanted) {
        var source = f.source(input);
        if (source != null) {
            return writer.carried(f, source, wanted);
        }
        Face.In in = f.face().inputs().get(input);
        Type t = in.exact() != null ? in.exact() : in.accept() == Accept.LOGIC ? Type.BOOL
                : in.accept() == Accept.INTEGER ? Type.INT32 : real();
        return Expr.of(t, 0);
    }

    @Override
    public List<Expr> elements(String port) {
        int input = indexOf(port);
        var source = f.source(input);
        int n = source == null ? 1 : source.block().width(source.output());
        List<Expr> all = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            all.add(element(input, i));
        }
        return all;
    }

    private int indexOf(String port) {
        List<Face.In> inputs = f.face().inputs();
        for (int i = 0; i < inputs.size(); i++) {
            if (inputs.get(i).name().equals(port)) {
                return i;
            }
        }
        throw new IllegalArgumentException(f.type().id() + " has no input " + port);
    }

    @Override
    public boolean connected(String port) {
        return f.source(indexOf(port)) != null;
    }

    @Override
    public Type typeOf(String output) {
        return f.outputType(f.face().outputs().indexOf(output));
    }

    @Override
    public Type real() {
        return writer.resolver().real();
    }

    @Override
    public Expr param(String name, Type type) {
        var p = f.type().parameter(name);
        if (type.isInteger() && value(name) != Math.rint(value(name)) && !Double.isInfinite(value(name))) {
            problem("The signal is " + type.label() + ", and " + name + " = " + value(name) + " is not an integer.",
                    "Enter an integer, or convert the input to real.");
        }
        boolean live = p.live() == Parameter.Live.ALWAYS || p.live() == Parameter.Live.OFFERED && f.block().tunable().contains(name);
        if (!live) {
            return Expr.of(type, value(name));
        }
        String key = p.kind() == Parameter.Kind.REALS && list(name).length > 1 ? name + "." + (index() + 1) : name;
        return Expr.read(liveSlots.computeIfAbsent(key, _ -> live(name, key, type))).as(type);
    }

    private Slot live(String name, String key, Type type) {
        boolean always = f.type().parameter(name).live() == Parameter.Live.ALWAYS;
        String label = Labels.label(f);
        String unit = f.type().parameter(name).shownUnit(f.settings());
        Slot s = writer.slot(always ? label : label + "_" + key, Slot.Role.TUNABLE, type, value(name), f.path(), unit);
        double low = always ? value("low") : f.type().parameter(name).minimum();
        double high = always ? value("high") : f.type().parameter(name).maximum();
        String address = Labels.address(f);
        writer.tunable(new Tunable(always ? address : address + "." + key, s, f.path(), name, low, high));
        return s;
    }

    @Override
    public double value(String name) {
        double[] all = list(name);
        return all[Math.min(index(), all.length - 1)];
    }

    @Override
    public double[] list(String name) {
        return writer.resolver().values(f, name);
    }

    @Override
    public int rows(String name) {
        return writer.resolver().rows(f, name);
    }

    @Override
    public String text(String name) {
        return f.settings().text(name);
    }

    @Override
    public double sampleTime() {
        return f.rateNanos() * 1e-9;
    }

    @Override
    public double tick() {
        return writer.tickSeconds();
    }

    @Override
    public double solverStep() {
        return writer.stepSeconds();
    }

    @Override
    public Expr time() {
        return writer.time();
    }

    @Override
    public Slot state(String name, Type type, double initial) {
        Slot s = writer.slot(named(name), Slot.Role.STATE, type, initial, f.path(), "");
        writer.remembered(f, s);
        return s;
    }

    @Override
    public Slot array(String name, Type type, double[] initial) {
        Slot s = writer.array(f, element == ALL ? name : name + "_" + (element + 1), Slot.Role.STATE, type, initial);
        writer.remembered(f, s);
        return s;
    }

    @Override
    public Slot integrated(String name, double initial) {
        return writer.integrated(f, element == ALL ? name : name + "_" + (element + 1), initial);
    }

    @Override
    public Expr temp(String name, Expr value) {
        if (value instanceof Expr.Literal || value instanceof Expr.Read || body == null) {
            return value;
        }
        Slot s = local(name, value.type());
        assign(s, value);
        return Expr.read(s);
    }

    @Override
    public Slot local(String name, Type type) {
        return writer.slot(named(name), Slot.Role.SIGNAL, type, 0, f.path(), "");
    }

    @Override
    public Table table(String name, Type type, double[] values) {
        return new Table(writer.fresh(named(name)), type, values);
    }

    @Override
    public Slot slotOf(String output) {
        return ((Expr.Read) writer.outputs(f, output)[index()]).slot();
    }

    @Override
    public void add(Stmt statement) {
        body.add(statement);
    }

    @Override
    public void after(Stmt statement) {
        updates.add(statement);
    }

    @Override
    public Origin origin() {
        return origin;
    }

    @Override
    public void output(String port, Expr value) {
        if (isPin(port)) {
            assign(writer.pinOf(f, port), value);
        } else {
            output(port, index(), value);
        }
    }

    private void output(String port, int at, Expr value) {
        Expr[] all = writer.outputs(f, port);
        if (body == null) {
            all[at] = value;
        } else {
            assign(((Expr.Read) all[at]).slot(), value);
        }
    }

    @Override
    public void outputs(String port, List<Expr> values) {
        for (int i = 0; i < values.size(); i++) {
            output(port, i, values.get(i));
        }
    }

    @Override
    public void update(Slot state, Expr value) {
        updates.add(new Stmt.Assign(state, value, origin));
    }

    @Override
    public void derivative(Slot state, Expr value) {
        writer.derivative(state, value, origin);
    }

    @Override
    public Expr switched(String name, boolean initial, Expr u, Expr low, Expr high) {
        Slot kept = state(name, Type.BOOL, initial ? 1 : 0);
        Expr next = u.gt(high).or(u.lt(low).not().and(Expr.read(kept)));
        if (!isContinuous()) {
            Expr now = temp("now", next);
            update(kept, now);
            return now;
        }
        Events events = writer.events();
        events.switched(kept, next, low.minus(u).as(real()).when(Expr.read(kept), u.minus(high).as(real())), origin);
        return temp("now", Expr.read(kept).when(Expr.read(events.held()), next));
    }

    @Override
    public void follow(Slot state, Expr value) {
        if (isContinuous()) {
            writer.events().follow(new Stmt.Assign(state, value, origin));
        } else {
            update(state, value);
        }
    }

    @Override
    public void reset(Slot state, Expr trigger, String edge, Expr value) {
        writer.events().reset(state, trigger, edge, value, this);
    }

    @Override
    public boolean isConditional() {
        return Stream.iterate(f.group(), Objects::nonNull, Group::parent).anyMatch(Group::isConditional);
    }

    private boolean isContinuous() {
        return f.rateNanos() == FlatBlock.CONTINUOUS;
    }

    @Override
    public void crossing(Expr value) {
        writer.crossing(f, value);
    }

    @Override
    public String functionName(String wanted) {
        return writer.fresh(named(wanted));
    }

    @Override
    public boolean hasParameter(String name) {
        return f.type().hasParameter(name);
    }

    @Override
    public void report(Mistake m) {
        writer.report(f, m);
    }

    @Override
    public void warning(String cause, String cure) {
        writer.warning(f, cause, cure);
    }

    @Override
    public void problem(String cause, String cure) {
        writer.problem(f, cause, cure);
    }
}
