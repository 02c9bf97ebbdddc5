package boldanvil.core.simulate;

import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Instance;
import boldanvil.core.program.TapGroup;
import boldanvil.core.runs.SampleStore;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Writes the samples of every tap of a system into a store of its own. Taps that get their values together are written together. */
public final class Recorder implements Observer {
    private record Item(int track, TapGroup group, Instance.TapReader reader) {}

    private final SampleStore store;
    private final Map<String, List<Item>> continuous = new HashMap<>();
    private final Map<String, List<Item>> discrete = new HashMap<>();

    /**
     * @param instances one for each part
     * @param limit most samples of a tap that are kept, see {@link SampleStore}
     */
    public Recorder(LoweredSystem system, Map<String, Instance> instances, int limit) {
        var taps = TapList.of(system);
        Map<TapList.Entry, Integer> columns = new HashMap<>();
        taps.entries().forEach(e -> columns.put(e, columns.size()));
        List<int[]> tracks = new ArrayList<>();
        for (String part : system.parts().keySet()) {
            for (TapGroup g : TapGroup.of(system.program(part).orElseThrow())) {
                (g.continuous() ? continuous : discrete).computeIfAbsent(part, _ -> new ArrayList<>())
                        .add(new Item(tracks.size(), g, instances.get(part).reader(g)));
                tracks.add(g.taps().stream().mapToInt(t -> columns.get(new TapList.Entry(part, t))).toArray());
            }
        }
        store = new SampleStore(taps.columns(), tracks, limit);
    }

    /** Where the samples go. */
    public SampleStore store() {
        return store;
    }

    @Override
    public void sampled(String part, long nanos) {
        for (Item i : continuous.getOrDefault(part, List.of())) {
            write(i, nanos);
        }
    }

    @Override
    public void stepped(String part, long nanos, long partTick) {
        for (Item i : discrete.getOrDefault(part, List.of())) {
            int period = i.group().periodTicks();
            if (period == 1 || partTick % period == 0) {
                write(i, nanos);
            }
        }
    }

    private void write(Item i, long nanos) {
        store.add(i.track(), nanos / 1e9, i.reader()::read);
    }
}
