package boldanvil.core.stock;

import boldanvil.core.quantity.Dimension;
import java.util.function.Consumer;

/** Rules for the kinds of signals that several block types share. */
final class Kinds {
    private Kinds() {}

    /** The output is of the kind of some inputs and parameters, which are alike; without names, of all inputs. */
    static Consumer<UnitFlow> kept(String output, String... names) {
        return f -> f.out(output, f.alike(names.length == 0 ? f.inputs() : names));
    }

    /** Inputs and parameters that are compared; without names, all inputs. */
    static Consumer<UnitFlow> compared(String... names) {
        return f -> f.alike(names.length == 0 ? f.inputs() : names);
    }

    /** The output is an input over time, or the other way round. */
    static void integral(UnitFlow f, String input, String output, String... alike) {
        Dimension sum = UnitFlow.times(f.in(input), Dimension.TIME);
        f.out(output, sum);
        for (String name : alike) {
            f.must(name, sum);
        }
    }

    /** The output's kind is that of the block's own parameter unit. */
    static Consumer<UnitFlow> stated(String output) {
        return f -> f.out(output, Dimension.of(f.text("unit")).orElse(null));
    }

    /** Inputs that must be pure numbers. */
    static void numbers(UnitFlow f, String... names) {
        for (String name : names) {
            f.must(name, Dimension.NONE);
        }
    }
}
