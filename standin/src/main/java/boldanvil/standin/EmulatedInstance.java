package boldanvil.standin;

import boldanvil.core.board.Board;
import boldanvil.core.build.Toolchain;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.link.xcp.XcpClient;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.io.BufferedInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

/**
 * A part that runs as an image for another processor, instruction by instruction on an emulator. Inputs go and the whole context struct
 * comes back over the emulated machine's serial line; see {@code loop_main.c}. The emulator counts one instruction as a fixed time, so its
 * timer counts instructions.
 */
final class EmulatedInstance implements Instance, AutoCloseable {
    private static final String EMULATOR = "qemu-system-arm";
    /** Nanoseconds of an instruction, as a power of two. */
    private static final int INSTRUCTION_SHIFT = 6;
    private static final int ANSWER_SECONDS = 10;
    /** Runs a command with this input and output, and ends it when the process that started it is gone, in whatever way that went. */
    private static final String GUARD = """
            exec 3<&0
            "$@" <&3 & emulator=$!
            ( while kill -0 $PPID; do sleep 1; done; kill -9 $emulator ) >/dev/null 2>&1 & guard=$!
            wait $emulator
            kill $guard""";

    private final Program program;
    private final Layout layout;
    private final double instructionsPerCount;
    private final Process process;
    private final DataInputStream in;
    private final OutputStream out;
    private final ByteBuffer memory;
    private final byte[] answer;
    private final int inputBytes;
    private final boolean[] idle = new boolean[Program.ENTRIES.size()];
    private long most;
    private long steps;
    private long sum;

    /** @throws FindingException when there is no emulator, or the image does not answer */
    EmulatedInstance(Path image, Program program, Board board) {
        this.program = program;
        layout = Layout.of(program);
        inputBytes = layout.inputBytes();
        memory = ByteBuffer.allocate(layout.size()).order(ByteOrder.LITTLE_ENDIAN);
        answer = new byte[4 + layout.size()];
        instructionsPerCount = 1e9 / board.emulator().timerHertz() / (1 << INSTRUCTION_SHIFT);
        for (int i = 0; i < idle.length; i++) {
            idle[i] = program.isIdle(Program.ENTRIES.get(i));
        }
        if (Toolchain.find(EMULATOR).isEmpty()) {
            throw FindingException.of(board.title(), "There is no " + EMULATOR + " on this machine.",
                    "Install it, on Debian with 'apt-get install qemu-system-arm'.");
        }
        try {
            process = new ProcessBuilder("sh", "-c", GUARD, EMULATOR, EMULATOR, "-M", board.emulator().machine(), "-display", "none",
                    "-monitor", "none", "-serial", "stdio", "-icount",
                    "shift=" + INSTRUCTION_SHIFT + ",sleep=off", "-kernel", image.toAbsolutePath().toString())
                    .redirectError(ProcessBuilder.Redirect.DISCARD).start();
        } catch (IOException e) {
            throw FindingException.of(board.title(), EMULATOR + " cannot be run: " + e.getMessage() + ".", "Check that it is installed.");
        }
        in = new DataInputStream(new BufferedInputStream(process.getInputStream()));
        out = process.getOutputStream();
        init();
    }

    /** Greatest number of instructions of a step so far. */
    long mostInstructions() {
        return most;
    }

    /** Mean number of instructions of a step so far. */
    double meanInstructions() {
        return steps == 0 ? 0 : (double) sum / steps;
    }

    @Override
    public void init() {
        call(0);
        most = 0;
        steps = 0;
        sum = 0;
    }

    @Override
    public void sample() {
        call(1);
    }

    @Override
    public void step() {
        long counts = call(2);
        long instructions = Math.round(counts * instructionsPerCount);
        most = Math.max(most, instructions);
        sum += instructions;
        steps++;
    }

    @Override
    public void advance() {
        call(3);
    }

    private long call(int entry) {
        if (entry > 0 && idle[entry]) {
            return 0;
        }
        byte[] request = new byte[1 + inputBytes];
        request[0] = (byte) entry;
        memory.get(0, request, 1, inputBytes);
        return exchange(request);
    }

    /** Sends a request and takes the answer: what it cost, in counts of the timer, and the memory. */
    private long exchange(byte[] request) {
        try {
            out.write(request);
            out.flush();
            CompletableFuture<Void> reading = in.available() > 0 ? null : CompletableFuture.runAsync(this::read);
            if (reading == null) {
                read();
            } else {
                reading.get(ANSWER_SECONDS, TimeUnit.SECONDS);
            }
        } catch (IOException | ExecutionException | TimeoutException e) {
            close();
            throw FindingException.of(program.name(), "The emulated processor no longer responds.",
                    "Start the rig again; if it happens again, please report the sheet.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return 0;
        }
        memory.put(0, answer, 4, memory.capacity());
        return ByteBuffer.wrap(answer).order(ByteOrder.LITTLE_ENDIAN).getInt(0) & 0xFFFF_FFFFL;
    }

    private void read() {
        try {
            in.readFully(answer);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    @Override
    public double get(Slot slot) {
        return XcpClient.decode(memory.duplicate().order(ByteOrder.LITTLE_ENDIAN).position(layout.offset(slot)), slot.type());
    }

    @Override
    public void set(Slot slot, double value) {
        byte[] bytes = XcpClient.encode(slot.type(), value);
        int at = layout.offset(slot);
        if (at + bytes.length <= inputBytes) {
            // Inputs go with the next call.
            memory.put(at, bytes);
            return;
        }
        byte[] request = new byte[4 + bytes.length];
        request[0] = 4;
        request[1] = (byte) at;
        request[2] = (byte) (at >> 8);
        request[3] = (byte) bytes.length;
        System.arraycopy(bytes, 0, request, 4, bytes.length);
        byte[] inputs = new byte[inputBytes];
        memory.get(0, inputs);
        exchange(request);
        memory.put(0, inputs);
    }

    @Override
    public void close() {
        process.descendants().forEach(ProcessHandle::destroyForcibly);
        process.destroyForcibly();
    }
}
