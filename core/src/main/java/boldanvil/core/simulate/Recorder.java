package boldanvil.core.simulate;

import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.TapGroup;
import boldanvil.core.samples.SampleStore;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Writes the samples of every tap of a system into a store of its own. Taps that get their values together are written together. */
public final class Recorder {
    private record Item(int track, int periodTicks, SampleStore.Row row) {}

    private final SampleStore store;
    private final Map<String, PartRecorder> parts = new LinkedHashMap<>();

    /**
     * @param instances one for each part
     * @param limit most samples of a tap that are kept, see {@link SampleStore}
     */
    public Recorder(LoweredSystem system, Map<String, Instance> instances, int limit) {
        var taps = TapList.of(system);
        Map<TapList.Entry, Integer> columns = new HashMap<>();
        taps.entries().forEach(e -> columns.put(e, columns.size()));
        List<int[]> tracks = new ArrayList<>();
        List<Double> periods = new ArrayList<>();
        for (String part : system.parts().keySet()) {
            List<Item> continuous = new ArrayList<>();
            List<Item> discrete = new ArrayList<>();
            for (TapGroup g : TapGroup.of(system.program(part).orElseThrow())) {
                (g.continuous() ? continuous : discrete).add(new Item(tracks.size(), g.periodTicks(), instances.get(part).reader(g)::read));
                periods.add(g.periodTicks() * system.program(part).orElseThrow().tickNanos() / 1e9);
                tracks.add(g.taps().stream().mapToInt(t -> columns.get(new TapList.Entry(part, t))).toArray());
            }
            if (!continuous.isEmpty() || !discrete.isEmpty()) {
                parts.put(part, new PartRecorder(continuous.toArray(Item[]::new), discrete.toArray(Item[]::new)));
            }
        }
        store = new SampleStore(taps.columns(), tracks, periods.stream().mapToDouble(Double::doubleValue).toArray(), limit);
    }

    /** Records what a conductor does from now on. */
    public void record(Conductor conductor) {
        parts.forEach(conductor::observe);
    }

    /** Where the samples go. */
    public SampleStore store() {
        return store;
    }

    private final class PartRecorder implements Observer {
        private final Item[] continuous;
        private final Item[] discrete;

        PartRecorder(Item[] continuous, Item[] discrete) {
            this.continuous = continuous;
            this.discrete = discrete;
        }

        @Override
        public void sampled(long nanos) {
            for (Item i : continuous) {
                store.add(i.track(), nanos / 1e9, i.row());
            }
        }

        @Override
        public void stepped(long nanos, long partTick) {
            for (Item i : discrete) {
                if (i.periodTicks() == 1 || partTick % i.periodTicks() == 0) {
                    store.add(i.track(), nanos / 1e9, i.row());
                }
            }
        }
    }
}
