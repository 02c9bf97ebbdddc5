package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.FindingException;
import boldanvil.core.lower.Names;
import boldanvil.core.replay.LiveContacts;
import boldanvil.core.replay.Replay;
import boldanvil.core.simulate.StateTransfer;
import boldanvil.core.user.Log;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.Executor;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;

/**
 * Potentials and flows at the contacts of network elements: at the past instant that is shown, or now while a rig runs. All methods are
 * called on the window's thread; what runs is looked at between two ticks, and the values are computed on a thread of their own.
 */
public final class ContactValues {
    private final Supplier<Optional<LiveRun>> live;
    private final TimeTravel travel;
    private final Executor window;
    private final ExecutorService worker = Executors.newSingleThreadExecutor(
            r -> Thread.ofPlatform().daemon().name("contacts").unstarted(r));
    private Runnable changed = () -> { };
    private Look look;
    private Map<String, Double> values = Map.of();
    private String message = "";
    private boolean asked;

    /** What is looked at. */
    private record Look(LiveRun run, SheetRef sheet, String path) {
        String part() {
            return Names.partOf(path);
        }
    }

    /** The twin of the part that was looked at last; on the worker's thread alone. */
    private LiveContacts twin;
    private LiveRun twinOf;

    /**
     * @param live the run while it is live
     * @param window runs what must happen on the window's thread
     */
    public ContactValues(Supplier<Optional<LiveRun>> live, TimeTravel travel, Executor window) {
        this.live = live;
        this.travel = travel;
        this.window = window;
    }

    /** @param listener called when other values can be shown */
    public void onChange(Runnable listener) {
        changed = listener;
        travel.onChange(listener);
    }

    /** Whether there is an instant, past or present, whose values can be shown. */
    public boolean isOn() {
        return travel.isOn() || live.get().isPresent();
    }

    /** What is to be known where there are no values; empty for nothing. */
    public String message() {
        return travel.isOn() ? "" : message;
    }

    /** A value at a contact of an element on the sheet that is shown, SI. */
    public OptionalDouble value(String block, String port) {
        Double v = travel.isOn() ? travel.value(block, port).map(Replay.Value::value).orElse(null) : values.get(block + "." + port);
        return v == null ? OptionalDouble.empty() : OptionalDouble.of(v);
    }

    /** Asks for the values of a sheet as they are now; the listener is called when they are there. */
    public void ask(SheetRef sheet, String path) {
        Look next = live.get().map(run -> new Look(run, sheet, path)).orElse(null);
        if (!Objects.equals(next, look)) {
            look = next;
            values = Map.of();
            message = "";
            asked = false;
        }
        if (look == null || asked || travel.isOn()) {
            return;
        }
        Look mine = look;
        asked = true;
        worker.execute(() -> prepare(mine));
    }

    /** Makes the twin where it is another one, then has the part's state read. */
    private void prepare(Look mine) {
        try {
            if (twinOf != mine.run() || !twin.part().equals(mine.part())) {
                // Asked first, so that no twin is made of a part that runs elsewhere.
                if (!mine.run().between(mine.part(), _ -> { })) {
                    window.execute(() -> show(mine, Map.of(), "Values of now are shown where parts run as models in the window's process. "
                            + "Stop the run and show a past instant."));
                    return;
                }
                window.execute(() -> show(mine, Map.of(), "Preparing the values …"));
                var review = mine.run().review();
                twin = new LiveContacts(review.project().as(mine.run().rig()), mine.part(), review.system().program(mine.part())
                        .orElseThrow());
                twinOf = mine.run();
            }
            var with = twin;
            mine.run().between(mine.part(), i -> {
                StateTransfer.Taken state = with.take(i);
                worker.execute(() -> {
                    var found = with.values(state, mine.sheet(), mine.path());
                    window.execute(() -> show(mine, found, ""));
                });
            });
        } catch (FindingException e) {
            window.execute(() -> show(mine, Map.of(), e.findings().getFirst().toString()));
        } catch (RuntimeException e) {
            Log.ignored(ContactValues.class, e, "Live values of contacts cannot be computed.");
            window.execute(() -> show(mine, Map.of(), "The values cannot be computed."));
        }
    }

    private void show(Look mine, Map<String, Double> found, String text) {
        if (mine.equals(look)) {
            values = found;
            message = text;
            asked = !found.isEmpty() ? false : asked;
            changed.run();
        }
    }
}
