package boldanvil.core.simulate;

import boldanvil.core.program.Instance;
import boldanvil.core.program.Tap;
import boldanvil.core.runs.SampleStore;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Writes the samples of every tap of the observed parts into a store. */
public final class Recorder implements Observer {
    private record Item(int column, Tap tap, Instance instance) {}

    private final SampleStore store;
    private final Map<String, List<Item>> continuous = new HashMap<>();
    private final Map<String, List<Item>> discrete = new HashMap<>();

    /** @param instances by part; taps of parts that are not here are left out */
    public Recorder(TapList taps, Map<String, Instance> instances, SampleStore store) {
        this.store = store;
        for (int i = 0; i < taps.entries().size(); i++) {
            var e = taps.entries().get(i);
            if (instances.containsKey(e.part())) {
                (e.tap().continuous() ? continuous : discrete).computeIfAbsent(e.part(), _ -> new ArrayList<>())
                        .add(new Item(i, e.tap(), instances.get(e.part())));
            }
        }
    }

    @Override
    public void sampled(String part, long nanos) {
        for (Item i : continuous.getOrDefault(part, List.of())) {
            store.add(i.column(), nanos / 1e9, i.instance().get(i.tap().slot()));
        }
    }

    @Override
    public void stepped(String part, long nanos, long partTick) {
        for (Item i : discrete.getOrDefault(part, List.of())) {
            if (partTick % i.tap().periodTicks() == 0) {
                store.add(i.column(), nanos / 1e9, i.instance().get(i.tap().slot()));
            }
        }
    }
}
