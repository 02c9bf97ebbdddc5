package boldanvil.core.bench;

import boldanvil.core.board.Boards;
import boldanvil.core.build.Builder;
import boldanvil.core.build.Image;
import boldanvil.core.build.Target;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.export.CSources;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.quantity.Units;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Guard;
import boldanvil.core.tags.PartTags;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.atomic.AtomicReference;
import tools.jackson.databind.JsonNode;

/** Takes a rig from a project to where it can be started. Each step either succeeds or ends the whole with a finding. */
public final class RigStarter {
    private final Project project;
    private final String rigName;
    private final RunOptions options;
    private final Progress progress;

    private RigStarter(Project project, String rigName, RunOptions options, Progress progress) {
        this.project = project;
        this.rigName = rigName;
        this.options = options;
        this.progress = progress;
    }

    /**
     * Prepares a rig.
     *
     * @throws FindingException when a step fails or is cancelled
     */
    public static LiveRun prepare(Project project, String rigName, RunOptions options, Progress progress) {
        Project asRig = project.rig(rigName).map(project::as).orElse(project);
        return guarded(new RigStarter(asRig, rigName, options, progress).prepare(), project);
    }

    /**
     * Runs models that are compiled already.
     *
     * @throws FindingException when a change or a limit does not fit
     */
    static LiveRun start(ModelsOfRig models, RunOptions options) {
        options.changes().forEach(c -> Addresses.tunable(models.review().system(), c.address(), c.value()));
        return guarded(new DeskRun(models, options), models.review().project());
    }

    private static LiveRun guarded(LiveRun run, Project project) {
        var guards = guards(project.bench().limits());
        if (!guards.isEmpty()) {
            try {
                run.guard(guards);
            } catch (FindingException e) {
                run.close();
                throw e;
            }
        }
        return run;
    }

    /**
     * Limits as a rig watches them.
     *
     * @throws FindingException when a unit is none, or nothing is left that is allowed
     */
    public static List<Guard> guards(List<BenchLayout.Limit> limits) {
        return limits.stream().map(l -> {
            var unit = Units.find(l.unit()).orElseThrow(() -> FindingException.of(Place.bench("limit on " + l.tap()),
                    "'" + l.unit() + "' is not a unit.",
                    "Correct the limit on the Bench page."));
            return new Guard(l.tap(), Double.isNaN(l.least()) ? Double.NEGATIVE_INFINITY : unit.toSi(l.least()),
                    Double.isNaN(l.most()) ? Double.POSITIVE_INFINITY : unit.toSi(l.most()),
                    Double.isNaN(l.rate()) ? Double.POSITIVE_INFINITY : l.rate() * unit.factor(), l.seconds());
        }).toList();
    }

    /** Compiles one part as a rig needs it. */
    public static Image build(Review review, Rig rig, String part, Path buildFolder, Progress progress) {
        var program = review.system().program(part).orElseThrow();
        Target target = rig.place(part).mode() == Rig.Mode.EMULATED
                ? Target.bareArm(Boards.of(review.project()).require(Place.rig(rig.name()), rig.place(part).device()).emulator().flags())
                : Target.HOST;
        return new Builder(buildFolder.resolve(rig.name()).resolve(part), target, progress::log, progress::cancelled)
                .build(program, CSources.of(review, rig, part));
    }

    /** Whether the project would give other images than these for the parts of a rig. */
    public static boolean differs(Review now, Rig rig, Map<String, Image> images) {
        try {
            return images.entrySet().stream().anyMatch(e -> now.system().program(e.getKey()).isPresent()
                    && !CSources.of(now, rig, e.getKey()).stamp().equals(e.getValue().sources()));
        } catch (FindingException e) {
            return true;
        }
    }

    private LiveRun prepare() {
        progress.step("Check the project");
        var review = Review.of(project).orThrow();
        Rig rig = review.rig(rigName);
        options.changes().forEach(c -> Addresses.tunable(review.system(), c.address(), c.value()));
        if (rig.needsBench() && !rig.settled().isEmpty()) {
            throw FindingException.of(Place.rig(rigName), "The rig starts in a periodic steady state, but not all its parts run as models.",
                    "Let all parts run as models, or start from the initial values.");
        }
        if (!rig.needsBench()) {
            progress.step(rig.settled().isEmpty() ? "Compile the models" : "Compile the models and search the periodic steady state");
            return new DeskRun(ModelsOfRig.of(review, rig, options.coverage()), options);
        }
        var run = new AtomicReference<BenchRun>();
        // It comes up while the parts are compiled, and so do stand-ins of PLCs.
        var process = new BenchProcess(() -> {
            if (run.get() != null) {
                run.get().lost();
            }
        });
        var coming = coming(review, rig);
        try {
            Map<String, Image> images = new LinkedHashMap<>();
            for (var place : rig.places().entrySet()) {
                if (isCompiled(place.getValue())) {
                    step("Build " + place.getKey());
                    images.put(place.getKey(), build(review, rig, place.getKey(), options.buildFolder(), progress));
                }
            }
            step("Start the bench process");
            process.connect();
            run.set(connect(review, rig, process, images, coming));
            return run.get();
        } catch (FindingException e) {
            process.close();
            coming.values().forEach(f -> f.thenAccept(PlcProcess::close));
            throw e;
        }
    }

    /** Starts a stand-in for each PLC that has no address. */
    private Map<String, CompletableFuture<PlcProcess>> coming(Review review, Rig rig) {
        Map<String, CompletableFuture<PlcProcess>> coming = new LinkedHashMap<>();
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.PLC && place.isStandIn()) {
                var plc = Boards.of(review.project()).require(Place.rig(rigName, part), place.device()).plc();
                coming.put(part, CompletableFuture.supplyAsync(() -> PlcProcess.start(Map.of("inputBytes", plc.inputBytes(), "outputBytes",
                        plc.outputBytes(), "memoryBytes", plc.memoryBytes())), r -> Thread.ofVirtual().start(r)));
            }
        });
        return coming;
    }

    private void step(String name) {
        if (progress.cancelled()) {
            throw FindingException.of(Place.rig(rigName), "Starting was cancelled before '" + name + "'.", "Start again.");
        }
        progress.step(name);
    }

    private BenchRun connect(Review review, Rig rig, BenchProcess process, Map<String, Image> images,
            Map<String, CompletableFuture<PlcProcess>> coming) {
        var control = process.control();
        Path snapshot = snapshot(review.project());
        JsonNode boot;
        try {
            boot = control.ask("load", Map.of("project", snapshot.toString(), "rig", rig.name(),
                    "flash", options.buildFolder().resolve("devices").toAbsolutePath().toString())).path("boot");
        } finally {
            Folders.delete(snapshot);
        }
        options.faults().forEach((part, fault) -> control.ask("fault", Map.of("part", part, "kind", fault.label())));
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                new Deployer(Place.rig(rigName, part), place.device(), process.token(), progress)
                        .deploy(Endpoint.local(LinkProtocol.OF_STAND_INS, boot.path(part).asInt(0)), images.get(part));
                control.ask("built", Map.of("part", part, "sources", images.get(part).sources()));
            }
        });
        step("Prepare to run");
        // What is loaded must be what was built, wherever it has been in the meantime.
        Map<String, Object> code = new LinkedHashMap<>();
        rig.places().forEach((part, place) -> {
            if (isCompiled(place)) {
                code.put(part, Map.of("file", images.get(part).file().toAbsolutePath().toString(), "sha256", images.get(part).sha256()));
            }
        });
        var plcs = plcs(review, rig, coming);
        Map<String, Object> reach = new LinkedHashMap<>();
        plcs.forEach((part, plc) -> reach.put(part, plc.reach()));
        JsonNode answer = control.ask("prepare", Map.of("images", code, "plcs", reach, "lossless", Double.isInfinite(options.speed())));
        return new BenchRun(review, rig, options, process, images, endpoints(answer), plcs);
    }

    private static boolean isCompiled(Rig.Place place) {
        return place.mode() != Rig.Mode.MODEL && place.mode() != Rig.Mode.PLC && place.mode() != Rig.Mode.TARGET;
    }

    /** Waits for the stand-ins of PLCs, and downloads the texts of their parts. */
    private Map<String, PlcProcess> plcs(Review review, Rig rig, Map<String, CompletableFuture<PlcProcess>> coming) {
        Map<String, PlcProcess> plcs = new LinkedHashMap<>();
        coming.forEach((part, started) -> {
            Rig.Place place = rig.place(part);
            String title = Boards.of(review.project()).require(Place.rig(rigName, part), place.device()).title();
            step("Start " + title);
            PlcProcess plc;
            try {
                plc = started.join();
            } catch (CompletionException e) {
                throw e.getCause() instanceof FindingException f ? f : e;
            }
            plcs.put(part, plc);
            step("Download to " + title);
            plc.control().ask("hold", Map.of("held", true));
            plc.control().ask("watchdog", Map.of("nanos", Long.MAX_VALUE));
            plc.control().ask("download", Map.of("text", PartTags.text(review.system().program(part).orElseThrow(), place,
                    review.project().tagTable(part))));
        });
        return plcs;
    }

    /** What a device is to run, or what one that was found should be running. */
    private static Map<String, String> builds(Review review, Rig rig) {
        Map<String, String> builds = new LinkedHashMap<>();
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                builds.put(part, CSources.of(review, rig, part).stamp());
            }
        });
        return builds;
    }

    /**
     * Reconnects to a rig that runs without a window, without touching it.
     *
     * @param process where it runs
     * @throws FindingException when the process runs another rig, or its devices run other builds than the project would make
     */
    public static BenchRun attach(Project project, String rigName, RunOptions options, DeviceRegistry.Entry process) {
        var review = Review.of(project.rig(rigName).map(project::as).orElse(project)).orThrow();
        Rig rig = review.rig(rigName);
        var link = new AttachedBench(process);
        try {
            JsonNode answer = link.control().ask("attach", Map.of());
            Place place = Place.rig(rigName);
            if (!answer.path("rig").asString("").equals(rigName) || !answer.path("project").asString("").equals(project.name())) {
                throw FindingException.of(place, "The process is running the rig '" + answer.path("rig")
                        .asString("") + "' of '" + answer.path("project").asString("") + "'.",
                        "Choose that rig, or restart this one.");
            }
            builds(review, rig).forEach((part, wanted) -> {
                if (!answer.path("builds").path(part).asString("").equals(wanted)) {
                    throw FindingException.of(Place.rig(rigName, part), "The device runs an older build than that of the present project.",
                            "Start the rig to deploy the new build, or open the older project.");
                }
            });
            return new BenchRun(review, rig, options, link, Map.of(), endpoints(answer), Map.of());
        } catch (FindingException e) {
            link.leave();
            throw e;
        }
    }

    private static Map<String, Endpoint> endpoints(JsonNode answer) {
        Map<String, Endpoint> endpoints = new LinkedHashMap<>();
        answer.path("xcp").properties().forEach(e -> endpoints.put(e.getKey(),
                Endpoint.local(LinkProtocol.OF_STAND_INS, e.getValue().asInt())));
        return endpoints;
    }

    /** The project as it is now, saved or not, for the other process to read. */
    private static Path snapshot(Project project) {
        try {
            Path folder = TemporaryFiles.folder("project");
            ProjectWriter.write(project, folder);
            return folder;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
