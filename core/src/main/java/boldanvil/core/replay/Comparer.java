package boldanvil.core.replay;

import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Tap;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Observer;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Holds what is computed against what was recorded, sample by sample. */
final class Comparer {
    private final Map<String, PartComparer> parts = new LinkedHashMap<>();

    Comparer(Samples recorded, LoweredSystem system, Map<String, Instance> instances, List<Replay.Difference> differences) {
        for (String part : system.parts().keySet()) {
            var program = system.program(part).orElseThrow();
            List<Column> columns = new ArrayList<>();
            for (Tap tap : program.taps()) {
                String address = part + "." + tap.name();
                int c = WireTaps.isOwn(address) ? -1 : recorded.indexOf(address);
                if (c >= 0) {
                    columns.add(new Column(address, tap, instances.get(part), recorded.series(c), differences));
                }
            }
            if (!columns.isEmpty()) {
                parts.put(part, new PartComparer(columns));
            }
        }
    }

    void observe(Conductor conductor) {
        parts.forEach(conductor::observe);
    }

    /** One recorded tap, with the sample that comes next. */
    private static final class Column {
        private final String address;
        private final Tap tap;
        private final Instance instance;
        private final Series series;
        private final List<Replay.Difference> differences;
        private int next;
        private boolean differs;

        Column(String address, Tap tap, Instance instance, Series series, List<Replay.Difference> differences) {
            this.address = address;
            this.tap = tap;
            this.instance = instance;
            this.series = series;
            this.differences = differences;
        }

        void compare(long nanos) {
            double now = nanos / 1e9;
            while (next < series.times().length && series.times()[next] < now - 5e-10) {
                next++;
            }
            if (differs || next >= series.times().length || series.times()[next] > now + 5e-10) {
                return;
            }
            double computed = instance.get(tap.slot());
            double seen = series.values()[next++];
            boolean same = Double.compare(computed, seen) == 0 || computed == seen;
            if (!same) {
                differs = true;
                differences.add(new Replay.Difference(address, now, seen, computed));
            }
        }
    }

    private record PartComparer(List<Column> columns) implements Observer {
        @Override
        public void sampled(long nanos) {
            for (Column c : columns) {
                if (c.tap.continuous()) {
                    c.compare(nanos);
                }
            }
        }

        @Override
        public void stepped(long nanos, long partTick) {
            for (Column c : columns) {
                if (!c.tap.continuous() && partTick % c.tap.periodTicks() == 0) {
                    c.compare(nanos);
                }
            }
        }
    }
}
