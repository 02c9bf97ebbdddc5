package boldanvil.core.link.xcp;

import boldanvil.core.link.DeviceLink;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.TapGroup;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** A program that runs on a device: slots are at the addresses of its layout, groups of taps are measurement lists. */
final class XcpLink implements DeviceLink {
    private static final Set<Capability> CAPABILITIES = Set.of(Capability.READ, Capability.WRITE, Capability.SUBSCRIBE,
            Capability.SAFE_STOP);

    private final XcpClient client;
    private final Program program;
    private final Layout layout;

    XcpLink(XcpClient client, Program program) {
        this.client = client;
        this.program = program;
        layout = Layout.of(program);
    }

    @Override
    public Set<Capability> capabilities() {
        return CAPABILITIES;
    }

    @Override
    public double read(Slot slot) {
        return client.read(layout.offset(slot), slot.type());
    }

    @Override
    public void write(Map<Slot, Double> values) {
        if (values.size() == 1) {
            values.forEach((slot, v) -> client.write(layout.offset(slot), slot.type(), v));
        } else {
            client.write(values.entrySet().stream().map(e -> new XcpClient.Write(layout.offset(e.getKey()), e.getKey().type(),
                    e.getValue())).toList());
        }
    }

    @Override
    public void subscribe(List<TapGroup> groups, Receiver to) {
        client.measure(groups.stream().map(g -> new XcpClient.MeasureList(event(g), 1, g.taps().stream()
                .map(t -> new XcpClient.Variable(layout.offset(t.slot()), t.slot().type())).toList())).toList(), to::row);
    }

    /** Event 0 is the tick; the events of the tasks follow in their order. */
    private int event(TapGroup g) {
        if (g.continuous()) {
            return 0;
        }
        for (int i = 0; i < program.tasks().size(); i++) {
            if (program.tasks().get(i).periodTicks() == g.periodTicks()) {
                return 1 + i;
            }
        }
        throw new IllegalStateException(g.taps().getFirst().name());
    }

    @Override
    public void safeStop() {
        client.safeStop();
    }

    @Override
    public void onLost(Runnable action) {
        client.onLost(action);
    }

    @Override
    public void keepAlive() {
        client.keepAlive();
    }

    @Override
    public void drain() {
        client.drain();
    }

    @Override
    public long lost() {
        return client.lost();
    }

    @Override
    public void drop() {
        client.drop();
    }

    @Override
    public void close() {
        client.close();
    }
}
