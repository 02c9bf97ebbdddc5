package boldanvil.core.plc;

import boldanvil.core.text.Interlock;
import boldanvil.core.text.Interlock.Condition;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Watches an interlock scan by scan, and notes which of its conditions was the first that no longer held, and when. Values are those at
 * the end of a scan.
 */
public final class FirstOut {
    private static final int MOST = 500;

    /**
     * The interlock blocked, or became free.
     *
     * @param nanos instant of the scan
     * @param by the conditions that blocked first; empty when it became free
     */
    public record Event(long nanos, List<String> by) {
        public boolean isBlocked() {
            return !by.isEmpty();
        }
    }

    private final Interlock interlock;
    private final String instance;
    private final Deque<Event> events = new ArrayDeque<>();
    private final Set<Condition> failed = new HashSet<>();
    private Boolean before;

    /** @param instance what the paths of its variables begin with */
    public FirstOut(Interlock interlock, String instance) {
        this.interlock = interlock;
        this.instance = instance;
    }

    public Interlock interlock() {
        return interlock;
    }

    /** What the paths of its variables begin with. */
    public String instance() {
        return instance;
    }

    /** The newest are kept, oldest first. */
    public List<Event> events() {
        return List.copyOf(events);
    }

    /**
     * A scan has ended.
     *
     * @param values by path; null for what is not known
     */
    void note(long nanos, Function<String, Object> values) {
        Function<String, Object> own = name -> {
            Object v = values.apply(instance + name);
            return v == null ? values.apply(name) : v;
        };
        if (!(own.apply(interlock.target()) instanceof Boolean now)) {
            return;
        }
        List<Condition> blocking = interlock.conditions().stream().filter(c -> c.holds(own).equals(Optional.of(false))).toList();
        if (!now && (before == null || before)) {
            List<String> first = new ArrayList<>(blocking.stream().filter(c -> !failed.contains(c)).map(Condition::text).toList());
            if (first.isEmpty()) {
                blocking.forEach(c -> first.add(c.text()));
            }
            add(new Event(nanos, first.isEmpty() ? List.of("a condition that held again at the end of the scan") : first));
        } else if (now && before != null && !before) {
            add(new Event(nanos, List.of()));
        }
        before = now;
        failed.clear();
        failed.addAll(blocking);
    }

    private void add(Event e) {
        events.addLast(e);
        if (events.size() > MOST) {
            events.removeFirst();
        }
    }
}
