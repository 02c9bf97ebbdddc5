package boldanvil.standin;

import boldanvil.core.board.Board;
import boldanvil.core.board.PatchNumbers;
import boldanvil.core.board.PinMath;
import boldanvil.core.build.Registers;
import boldanvil.core.diagram.Patch;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.lang.invoke.MethodHandle;
import java.nio.file.Path;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.function.DoubleConsumer;
import java.util.function.DoubleSupplier;

/**
 * A part that runs on a stand-in. The wires end at pins: what is set on an input goes through the converter or counter into a
 * register, what is read of an output comes from a register. The program sees registers only.
 */
final class DeviceInstance implements Instance {
    private final MemorySegment registers;
    private final SlotMemory slots;
    private final MethodHandle tick;
    private final MethodHandle start;
    private final Map<Slot, DoubleConsumer> inputs = new IdentityHashMap<>();
    private final Map<Slot, DoubleSupplier> outputs = new IdentityHashMap<>();

    DeviceInstance(Path image, Program program, Board board, Patch patch, Arena arena) {
        var code = new NativeCode(image, arena);
        registers = arena.allocate(Registers.SIZE, 8);
        try {
            code.function("standin_attach", 1).invokeExact(registers);
        } catch (Throwable t) {
            throw new IllegalStateException(t);
        }
        start = code.function("board_start", 0);
        tick = code.function("board_tick", 0);
        var layout = Layout.of(program);
        slots = new SlotMemory(code.memory("board_memory", layout.size()), layout);
        for (Port p : program.ports()) {
            connect(p, patch.row(p.name()).orElseThrow(), board);
        }
        init();
    }

    private void connect(Port p, Patch.Row row, Board board) {
        switch (p.terminal()) {
            case ANALOG_IN -> {
                int at = Registers.adc(row.peripheral());
                inputs.put(p.slot(), v -> half(at, PinMath.adcCount(board, v)));
            }
            case ENCODER_IN -> {
                int at = Registers.encoder(row.peripheral());
                double lines = p.numbers().get("lines");
                inputs.put(p.slot(), v -> half(at, (int) PinMath.encoderCount(lines, v)));
            }
            case DIGITAL_IN -> {
                int at = Registers.DIGITAL_IN + pin(row, board);
                inputs.put(p.slot(), v -> registers.set(ValueLayout.JAVA_BYTE, at, (byte) (v != 0 ? 1 : 0)));
            }
            case DIGITAL_OUT -> {
                int at = Registers.DIGITAL_OUT + pin(row, board);
                outputs.put(p.slot(), () -> registers.get(ValueLayout.JAVA_BYTE, at));
            }
            case PWM_OUT -> {
                int at = Registers.pwmCompare(row.peripheral());
                var timer = PatchNumbers.timer(board, p);
                outputs.put(p.slot(), () -> timer.duty(registers.get(ValueLayout.JAVA_SHORT_UNALIGNED, at) & 0xFFFF));
            }
        }
    }

    private static int pin(Patch.Row row, Board board) {
        return board.pins().stream().map(Board.Pin::name).toList().indexOf(row.pin());
    }

    private void half(int at, int value) {
        registers.set(ValueLayout.JAVA_SHORT_UNALIGNED, at, (short) value);
    }

    @Override
    public void init() {
        registers.fill((byte) 0);
        call(start);
    }

    @Override
    public void sample() {
        // The device reads its inputs, computes and writes its outputs in one go; see step.
    }

    @Override
    public void step() {
        call(tick);
    }

    @Override
    public void advance() {
        // Done within step.
    }

    private static void call(MethodHandle function) {
        try {
            function.invokeExact();
        } catch (Throwable t) {
            throw new IllegalStateException(t);
        }
    }

    @Override
    public double get(Slot slot) {
        var pin = outputs.get(slot);
        return pin != null ? pin.getAsDouble() : slots.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        var pin = inputs.get(slot);
        if (pin != null) {
            pin.accept(value);
        } else {
            slots.set(slot, value);
        }
    }
}
