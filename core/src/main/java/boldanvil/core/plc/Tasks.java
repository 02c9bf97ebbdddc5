package boldanvil.core.plc;

import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.text.PlcProgram.Task;
import boldanvil.core.text.PlcProgram.Variable;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/** When the tasks of a program are due, and how they have run. */
final class Tasks {
    /** A task at work. */
    static final class Work {
        final Task task;
        private long next;
        private boolean was;
        private long scans;
        private long overruns;
        private final ExecutionTimes times = new ExecutionTimes();

        private Work(Task task, long next) {
            this.task = task;
            this.next = next;
        }

        void ran(long nanos) {
            times.add(nanos);
            scans++;
        }
    }

    private static final Comparator<Work> URGENCY = Comparator.comparingInt(w -> w.task.priority());
    /** How often what runs freely runs, where time stands still between the calls. */
    private static final long FREE_NANOS = 1_000_000;

    private final List<Work> works = new ArrayList<>();

    /** Begins anew: each is due now. */
    void begin(List<Task> tasks, long now) {
        works.clear();
        tasks.forEach(t -> works.add(new Work(t, now)));
    }

    /** Goes on after a stop. */
    void resume(long now) {
        works.forEach(w -> w.next = Math.max(w.next, now));
    }

    /** Takes over other tasks; those of the same name go on. */
    void exchange(List<Task> tasks, long now) {
        Map<String, Work> old = new HashMap<>();
        works.forEach(w -> old.put(w.task.name().toLowerCase(Locale.ROOT), w));
        works.clear();
        for (Task t : tasks) {
            Work o = old.get(t.name().toLowerCase(Locale.ROOT));
            var w = new Work(t, o == null || o.task.intervalNanos() != t.intervalNanos() ? now : o.next);
            if (o != null) {
                w.scans = o.scans;
                w.overruns = o.overruns;
                w.was = o.was;
            }
            works.add(w);
        }
    }

    /** When the next one is due by time; empty where none will be. */
    Optional<Long> next() {
        return works.stream().filter(w -> w.task.intervalNanos() > 0 || w.task.isFree()).map(w -> w.next).min(Comparator.naturalOrder());
    }

    /**
     * The tasks that are due, the most urgent first.
     *
     * @param busyUntil when the scan before was done
     * @param isOn whether a trigger is on
     */
    List<Work> due(long now, long busyUntil, Predicate<Variable> isOn) {
        List<Work> due = new ArrayList<>();
        for (Work w : works) {
            if (w.task.trigger() == null && w.next <= now) {
                due.add(w);
                long period = w.task.isFree() ? FREE_NANOS : w.task.intervalNanos();
                long late = Math.max(now, busyUntil) - w.next;
                long missed = Math.max(0, late / period);
                if (!w.task.isFree()) {
                    w.overruns += missed;
                }
                w.next += (missed + 1) * period;
            }
        }
        release(due, isOn);
        return due;
    }

    /** Adds the tasks whose trigger has risen since it was looked at last, such as by the task that has just run. */
    void release(List<Work> due, Predicate<Variable> isOn) {
        for (Work w : works) {
            if (w.task.trigger() != null) {
                boolean is = isOn.test(w.task.trigger());
                if (is && !w.was && !due.contains(w)) {
                    due.add(w);
                }
                w.was = is;
            }
        }
        due.sort(URGENCY);
    }

    List<PlcRuntime.TaskState> states() {
        return works.stream().map(w -> new PlcRuntime.TaskState(w.task.name(), w.task.intervalNanos(), w.scans, w.overruns, w.times))
                .toList();
    }
}
