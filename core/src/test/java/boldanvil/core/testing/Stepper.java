package boldanvil.core.testing;

import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Program;

/** Runs one part by itself: sets its inputs, takes ticks, reads its outputs and taps. */
public final class Stepper {
    private final Program program;
    private final Instance instance;

    public Stepper(Program program, Instance instance) {
        this.program = program;
        this.instance = instance;
    }

    public static Stepper of(PartBuilder builder) {
        var program = builder.program();
        return new Stepper(program, JvmCompiler.compile(program).instantiate());
    }

    public Stepper set(String port, double value) {
        instance.set(program.port(port).orElseThrow().slot(), value);
        return this;
    }

    public Stepper tune(String name, double value) {
        instance.set(program.tunable(name).orElseThrow().slot(), value);
        return this;
    }

    /** One tick up to where outputs are fresh. */
    public Stepper step() {
        instance.sample();
        instance.step();
        return this;
    }

    public Stepper advance() {
        instance.advance();
        return this;
    }

    /** Whole ticks. */
    public Stepper ticks(int n) {
        for (int i = 0; i < n; i++) {
            step().advance();
        }
        return this;
    }

    public double out(String port) {
        return instance.get(program.port(port).orElseThrow().slot());
    }

    public double tap(String name) {
        return instance.get(program.tap(name).orElseThrow().slot());
    }

    public int fault() {
        return Fault.bits((int) instance.get(program.fault()));
    }

    /** What an output shows for each value put on an input, one tick each. */
    public double[] course(String in, String out, double... values) {
        double[] shown = new double[values.length];
        for (int i = 0; i < values.length; i++) {
            set(in, values[i]).step();
            shown[i] = out(out);
            advance();
        }
        return shown;
    }

    /** What an output shows over a number of ticks without inputs. */
    public double[] course(String out, int ticks) {
        double[] shown = new double[ticks];
        for (int i = 0; i < ticks; i++) {
            step();
            shown[i] = out(out);
            advance();
        }
        return shown;
    }
}
