package boldanvil.standin;

import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.PinMath;
import boldanvil.core.program.Program;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.simulate.ExecutionTimes;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The processor of a stand-in, in simulated time: a tick takes as long as the board's cycle table says, so a slow board misses ticks here
 * as it would on the bench. A tick whose interrupt comes while the one before is being computed begins late; one that finds another waiting
 * already is missed.
 */
final class Processor {
    static final int POWER = 0;
    static final int WATCHDOG = 1;
    static final int COMMAND = 3;
    /** A guess where the compiler's own figure is not at hand. */
    private static final long STACK_OF_A_TICK = 256;

    /** Time of a task's run and how many ticks lie between two. */
    private record Cost(String task, double seconds, int everyTicks) {}

    private final List<Cost> costs = new ArrayList<>();
    private final double tickSeconds;
    private final double dogSeconds;
    private final long stackFree;
    private long tick;
    private double busyUntil;
    private double lastLoad;
    private long missed;
    private double fedAt;
    private int cause;
    private long watchdogResets;
    private double firstReset;
    private final ExecutionTimes times = new ExecutionTimes();

    Processor(BoardSetup setup) {
        Program program = setup.program();
        tickSeconds = program.tickSeconds();
        for (LoadEstimate.Row r : LoadEstimate.of(setup)) {
            costs.add(new Cost(r.name(), r.seconds(), (int) Math.max(1, Math.round(r.periodSeconds() / tickSeconds))));
        }
        dogSeconds = program.terminals().stream().filter(t -> t.kind().equals(TerminalKind.WATCHDOG)).findFirst().flatMap(setup::watchdog)
                .map(PinMath.Dog::seconds).orElse(Double.POSITIVE_INFINITY);
        stackFree = Math.max(0, setup.board().memory().stackBytes() - STACK_OF_A_TICK);
    }

    /** Back to power-up. */
    void reset() {
        tick = 0;
        busyUntil = 0;
        lastLoad = 0;
        missed = 0;
        fedAt = 0;
        cause = POWER;
        watchdogResets = 0;
        times.clear();
    }

    /** How long its steps take. */
    ExecutionTimes times() {
        return times;
    }

    /** Share of the processor that each task takes. */
    Map<String, Double> taskLoads() {
        Map<String, Double> loads = new LinkedHashMap<>();
        costs.forEach(c -> loads.merge(c.task(), c.seconds() / (c.everyTicks() * tickSeconds), Double::sum));
        return loads;
    }

    /** The next tick's interrupt; false when it is missed. */
    boolean begins() {
        double now = tick * tickSeconds;
        double begin = Math.max(now, busyUntil);
        if (begin >= now + tickSeconds - 1e-12) {
            missed++;
            tick++;
            return false;
        }
        double cost = 0;
        for (Cost c : costs) {
            cost += tick % c.everyTicks() == 0 ? c.seconds() : 0;
        }
        busyUntil = begin + cost;
        times.add(cost * 1e9);
        lastLoad = cost / tickSeconds;
        tick++;
        return true;
    }

    double load() {
        return lastLoad;
    }

    long missed() {
        return missed;
    }

    long ticks() {
        return tick;
    }

    long stackFree() {
        return stackFree;
    }

    int cause() {
        return cause;
    }

    void fed() {
        fedAt = busyUntil;
    }

    boolean isBitten() {
        return tick * tickSeconds - fedAt > dogSeconds;
    }

    /** How often the watchdog has reset the device. */
    long watchdogResets() {
        return watchdogResets;
    }

    /** When it did so first, in seconds. */
    double firstResetSeconds() {
        return firstReset;
    }

    void restarted(int why) {
        if (why == WATCHDOG) {
            firstReset = watchdogResets == 0 ? tick * tickSeconds : firstReset;
            watchdogResets++;
        }
        cause = why;
        fedAt = tick * tickSeconds;
        busyUntil = fedAt;
    }
}
