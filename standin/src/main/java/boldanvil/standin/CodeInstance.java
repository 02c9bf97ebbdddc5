package boldanvil.standin;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.lang.invoke.MethodHandle;
import java.nio.file.Path;

/** A part that runs as its compiled C. */
public final class CodeInstance implements Instance {
    private final MemorySegment context;
    private final SlotMemory slots;
    private final MethodHandle init;
    private final MethodHandle sample;
    private final MethodHandle step;
    private final MethodHandle advance;

    /** Loads an image; it stays loaded as long as the arena lives. */
    public CodeInstance(Path image, Program program, Arena arena) {
        var code = new NativeCode(image, arena);
        var layout = Layout.of(program);
        context = arena.allocate(Math.max(1, layout.size()), 16);
        slots = new SlotMemory(context, layout);
        init = code.function(program.name() + "_" + Program.INIT, 1);
        sample = code.function(program.name() + "_" + Program.SAMPLE, 1);
        step = code.function(program.name() + "_" + Program.STEP, 1);
        advance = code.function(program.name() + "_" + Program.ADVANCE, 1);
        init();
    }

    @Override
    public void init() {
        call(init);
    }

    @Override
    public void sample() {
        call(sample);
    }

    @Override
    public void step() {
        call(step);
    }

    @Override
    public void advance() {
        call(advance);
    }

    private void call(MethodHandle function) {
        try {
            function.invokeExact(context);
        } catch (Throwable t) {
            throw new IllegalStateException(t);
        }
    }

    @Override
    public double get(Slot slot) {
        return slots.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        slots.set(slot, value);
    }
}
