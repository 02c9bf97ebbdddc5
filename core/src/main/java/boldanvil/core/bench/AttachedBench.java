package boldanvil.core.bench;

import boldanvil.core.control.ControlClient;
import boldanvil.core.control.DeviceRegistry;

/** A bench process that was there before this one. Closing it leaves it to itself. */
final class AttachedBench implements BenchLink {
    private static final int ANSWER_MILLIS = 30_000;

    private final DeviceRegistry.Entry entry;
    private final ControlClient control;

    AttachedBench(DeviceRegistry.Entry entry) {
        this.entry = entry;
        control = entry.connect(ANSWER_MILLIS);
    }

    @Override
    public ControlClient control() {
        return control;
    }

    @Override
    public String token() {
        return entry.token();
    }

    @Override
    public void kill() {
        ProcessHandle.of(entry.pid()).ifPresent(ProcessHandle::destroyForcibly);
    }

    @Override
    public void close() {
        leave();
    }
}
