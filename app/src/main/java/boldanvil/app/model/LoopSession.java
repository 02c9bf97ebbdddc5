package boldanvil.app.model;

import boldanvil.core.asbuilt.AsBuilt;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.FindingException;
import boldanvil.core.identify.MeasuredResponse;
import boldanvil.core.identify.Record;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.loop.Compensator;
import boldanvil.core.loop.Controller;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.loop.PidDesign;
import boldanvil.core.loop.Tolerances;
import boldanvil.core.loop.TypedLoop;
import boldanvil.core.samples.Samples;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executor;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * A loop that is open on the Loop page: what was found, its gain, and designs of its controller. All methods are called on the window's
 * thread; what takes time is computed on another, and only the newest gain that was asked for.
 */
public final class LoopSession {
    private static final int MOST_KEPT = 4;
    /** Stretches of a record whose mean is a measured response. */
    private static final int STRETCHES = 8;

    /**
     * A design.
     *
     * @param gains values of the controller's gains; empty where none was found
     * @param built the same with the delays of the board; empty where no part is patched to one
     */
    public record Design(String name, Map<String, Double> gains, LoopView view, LoopView.At at, Optional<Built> built) {}

    /** A loop with the delays of its board. */
    public record Built(AsBuilt how, LoopView view, LoopView.At at) {}

    /** A place on the sheet where a loop is opened. */
    public record Opened(Project project, Rig rig, Cut cut, Linearisation.OperatingPoint point, Optional<Controller> controller) {}

    /** What gives a loop for the gains of its controller. */
    private record Source(Optional<Controller> controller, Function<Map<String, Double>, Loops> loops) {}

    /** A loop, and the same as built. */
    private record Loops(OpenLoop loop, Optional<AsBuilt> how, Optional<OpenLoop> built) {}

    private final Executor window;
    private final LatestWork work;
    private final List<Runnable> listeners = new ArrayList<>();
    private final List<Design> kept = new ArrayList<>();
    private Opened opened;
    private Source source;
    /** The loop as it was opened, from which controllers are designed whatever is shown. */
    private OpenLoop base;
    private Design shown;
    private List<LoopView.At> varied = List.of();
    private MeasuredResponse measured;
    private volatile double wanted = 1;
    private volatile boolean drawing;

    /** @param window runs what must happen on the window's thread */
    public LoopSession(Executor window) {
        this.window = window;
        work = new LatestWork("loop", window, this::changed);
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    private void changed() {
        List.copyOf(listeners).forEach(Runnable::run);
    }

    /** Forgets the loop; another project is there. */
    public void clear() {
        opened = null;
        source = null;
        shown = null;
        measured = null;
        varied = List.of();
        kept.clear();
        work.cancel();
    }

    /** Opens a loop in the background. */
    public void open(Project project, Rig rig, Cut cut, Linearisation.OperatingPoint point) {
        var next = new Opened(project, rig, cut, point, Controller.of(project, cut));
        begin(new Source(next.controller(), gains -> loops(next, next.controller().filter(_ -> !gains.isEmpty())
                .map(c -> c.send(project, gains).project()).orElse(project))), next, "as on the sheet");
    }

    /** Shows the loop of a plant that is typed, with a controller that is on no sheet. */
    public void open(TypedLoop typed, Controller controller) {
        begin(new Source(Optional.of(controller), gains -> new Loops(typed.with(controller, gains), Optional.empty(), Optional.empty())),
                null,
                "as typed");
    }

    private void begin(Source from, Opened at, String name) {
        work.start("Opening the loop …", () -> viewed(name, from, from.controller().map(Controller::gains).orElse(Map.of())), d -> {
            opened = at;
            source = from;
            base = d.view().loop();
            varied = List.of();
            kept.clear();
            show(d, 1);
        });
    }

    private static Loops loops(Opened o, Project project) {
        var built = CompletableFuture.supplyAsync(() -> built(o, project));
        OpenLoop loop = Linearisation.open(project, o.rig(), o.cut(), o.point());
        var second = built.join();
        return new Loops(loop, second.map(Map.Entry::getKey), second.map(Map.Entry::getValue));
    }

    private static Optional<Map.Entry<AsBuilt, OpenLoop>> built(Opened o, Project project) {
        var how = AsBuilt.of(project, o.rig());
        if (how.ways().isEmpty()) {
            return Optional.empty();
        }
        try {
            return Optional.of(Map.entry(how, Linearisation.open(how.project(), o.rig(), o.cut(), o.point())));
        } catch (FindingException e) {
            // The same is found, and shown, without the board; what only the board adds is no reason to show nothing.
            Log.ignored(LoopSession.class, e, "A loop as built cannot be opened.");
            return Optional.empty();
        }
    }

    private static Design viewed(String name, Source from, Map<String, Double> gains) {
        return viewed(name, from.loops().apply(gains), gains);
    }

    private static Design viewed(String name, Loops l, Map<String, Double> gains) {
        var built = CompletableFuture.supplyAsync(() -> l.built().map(b -> {
            var view = new LoopView(b);
            return new Built(l.how().orElseThrow(), view, view.at(1));
        }));
        var view = new LoopView(l.loop());
        return new Design(name, gains, view, view.at(1), built.join());
    }

    /** Puts a compensator into the wire of what is shown, for a look at it; it is not on the sheet yet. */
    public void compensate(Compensator c) {
        Design d = shown;
        if (d == null) {
            return;
        }
        work.start("Computing …", () -> {
            double period = d.view().loop().samplePeriod();
            var compensator = c.sampled(period);
            return viewed(d.name() + ", " + c.name(), new Loops(d.view().loop().with(compensator), d.built().map(Built::how),
                    d.built().map(b -> b.view().loop().with(compensator))), d.gains());
        }, next -> {
            keep(d);
            show(next, d.at().gain());
            gain(d.at().gain());
        });
    }

    /**
     * Shows what the loop is like when variables are not what they should be.
     *
     * @param random how many random cases besides the corners
     * @param worst gets the case with the least phase margin; those that are not stable first
     */
    public void vary(List<Tolerances.Tolerance> all, int random, Consumer<Tolerances.Case> worst) {
        if (opened == null) {
            return;
        }
        Project p = project().orElseThrow();
        Opened o = opened;
        work.start("Opening the loop with other values …", () -> Tolerances.of(p, o.rig(), o.cut(), o.point(), all, random, 1), cases -> {
            varied = cases.stream().skip(1).map(c -> new LoopView(c.loop()).at(1)).toList();
            cases.stream().skip(1).min(Comparator.comparing(Tolerances.Case::isStable)
                    .thenComparing(c -> c.margins().phase().map(Margins.Crossing::value).orElse(Math.PI))).ifPresent(worst);
        });
    }

    /** The loop with other values of variables. */
    public List<LoopView.At> varied() {
        return varied;
    }

    private void show(Design d, double gain) {
        shown = d;
        wanted = gain;
    }

    /** Shows the loop with another gain, as a factor to that of the design. */
    public void gain(double factor) {
        Design from = shown;
        if (from == null || !(factor > 0)) {
            return;
        }
        wanted = factor;
        if (drawing) {
            return;
        }
        drawing = true;
        work.execute(() -> {
            double mine = wanted;
            var built = CompletableFuture.supplyAsync(() -> from.built().map(b -> new Built(b.how(), b.view(), b.view().at(mine))));
            var at = from.view().at(mine);
            var builtAt = built.join();
            window.execute(() -> {
                drawing = false;
                if (shown != null && shown.view() == from.view()) {
                    shown = new Design(from.name(), from.gains(), from.view(), at, builtAt);
                    changed();
                    if (wanted != mine) {
                        gain(wanted);
                    }
                }
            });
        });
    }

    /**
     * Lays the response of one recorded tap to another over the curves.
     *
     * @param from first instant
     */
    public void measure(Samples samples, String in, String out, double from) {
        work.start("Measuring …", () -> MeasuredResponse.of(Record.of(samples, in, out, from, samples.end()), STRETCHES), found ->
                measured = found);
    }

    /** Lays a response that was measured in an experiment over the curves. */
    public void measured(MeasuredResponse response) {
        measured = response;
        changed();
    }

    /** What was measured on a run; empty for nothing. */
    public Optional<MeasuredResponse> measured() {
        return Optional.ofNullable(measured);
    }

    /** Designs the controller and shows the loop with it. */
    public void design(String name, BiFunction<PidDesign, OpenLoop, Map<String, Double>> method) {
        Source from = source;
        Design present = shown;
        if (from == null || from.controller().isEmpty()) {
            return;
        }
        OpenLoop loop = base;
        Controller c = from.controller().get();
        work.start("Designing …", () -> {
            Map<String, Double> gains = method.apply(new PidDesign(c, loop), loop);
            try {
                return viewed(name, from, gains);
            } catch (FindingException e) {
                // The rig runs to its operating point with the new gains, and may not come to rest there.
                throw new NoSolutionException("The rig does not come to its operating point with " + text(gains) + ".",
                        "Ask for a lower crossover or more margin. " + e.findings().getFirst().cause());
            }
        }, d -> {
            varied = List.of();
            keep(present);
            show(d, 1);
        });
    }

    private static String text(Map<String, Double> gains) {
        return gains.entrySet().stream().filter(e -> e.getValue() != 0).map(e -> e.getKey() + " = " + Figures.text(e.getValue(), 4))
                .collect(Collectors.joining(", "));
    }

    /** Keeps what is shown, to compare others with it. */
    public void keep() {
        keep(shown);
        changed();
    }

    private void keep(Design d) {
        if (d != null && kept.stream().noneMatch(k -> k.at() == d.at())) {
            kept.add(d);
            if (kept.size() > MOST_KEPT) {
                kept.removeFirst();
            }
        }
    }

    /** Shows a design that was kept. */
    public void show(Design d) {
        keep(shown);
        kept.remove(d);
        show(d, d.at().gain());
        changed();
    }

    /** Forgets a design that was kept. */
    public void drop(Design d) {
        kept.remove(d);
        changed();
    }

    public Optional<Design> shown() {
        return Optional.ofNullable(shown);
    }

    public List<Design> kept() {
        return List.copyOf(kept);
    }

    /** Where the loop is opened. */
    public Optional<Opened> opened() {
        return Optional.ofNullable(opened);
    }

    /** The project with the gains that are shown. */
    public Optional<Project> project() {
        return opened().map(o -> o.controller().filter(_ -> !gains().isEmpty()).map(c -> c.send(o.project(), gains()).project())
                .orElse(o.project()));
    }

    public Optional<Controller> controller() {
        return source == null ? Optional.empty() : source.controller();
    }

    /** The gains of the controller that are shown; empty where no block sets them. */
    public Map<String, Double> gains() {
        return shown == null || shown.gains().isEmpty() ? Map.of()
                : controller().map(c -> c.scaled(shown.gains(), shown.at().gain())).orElse(Map.of());
    }

    public String message() {
        return work.message();
    }

    public boolean isBusy() {
        return work.isBusy();
    }
}
