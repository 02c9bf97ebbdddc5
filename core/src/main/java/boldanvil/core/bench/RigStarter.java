package boldanvil.core.bench;

import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.Boards;
import boldanvil.core.build.Builder;
import boldanvil.core.build.Image;
import boldanvil.core.build.Review;
import boldanvil.core.build.Sources;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.program.Program;
import boldanvil.core.simulate.Addresses;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import tools.jackson.databind.JsonNode;

/** Takes a rig from a project to where it can be started. Each step either succeeds or ends the whole with a finding. */
public final class RigStarter {
    private static final int PIECE = 8 * 1024;

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
        return new RigStarter(asRig, rigName, options, progress).prepare();
    }

    /** Compiles one part as a rig needs it. */
    public static Image build(Review review, Rig rig, String part, Path buildFolder, Progress progress) {
        var program = review.system().program(part).orElseThrow();
        return new Builder(buildFolder.resolve(rig.name()).resolve(part), progress::log, progress::cancelled)
                .build(program, sources(review, rig, part));
    }

    /** The generated files of one part as a rig needs them. */
    public static Sources sources(Review review, Rig rig, String part) {
        Program program = review.system().program(part).orElseThrow();
        if (rig.place(part).mode() != Rig.Mode.DEVICE) {
            return Sources.of(program);
        }
        var board = Boards.of(review.project()).require("rig " + rig.name(), rig.place(part).device());
        return Sources.of(new BoardSetup(board, review.patch(part, board.name()), program));
    }

    private LiveRun prepare() {
        progress.step("Check the project");
        var review = Review.of(project).orThrow();
        Rig rig = review.rig(rigName);
        options.changes().forEach(c -> Addresses.tunable(review.system(), c.address(), c.value()));
        if (!rig.needsBench()) {
            progress.step("Compile the models");
            return new DeskRun(review, rig, options);
        }
        Map<String, Image> images = new LinkedHashMap<>();
        for (var place : rig.places().entrySet()) {
            if (place.getValue().mode() != Rig.Mode.MODEL) {
                step("Build " + place.getKey());
                images.put(place.getKey(), build(review, rig, place.getKey(), options.buildFolder(), progress));
            }
        }
        step("Start the bench process");
        var run = new AtomicReference<BenchRun>();
        var process = new BenchProcess(() -> {
            if (run.get() != null) {
                run.get().lost();
            }
        });
        try {
            run.set(connect(review, rig, process, images));
            return run.get();
        } catch (FindingException e) {
            process.close();
            throw e;
        }
    }

    private void step(String name) {
        if (progress.cancelled()) {
            throw FindingException.of("rig " + rigName, "Starting was cancelled before '" + name + "'.", "Start again.");
        }
        progress.step(name);
    }

    private BenchRun connect(Review review, Rig rig, BenchProcess process, Map<String, Image> images) {
        var control = process.control();
        Path snapshot = snapshot(review.project());
        try {
            control.ask("load", Map.of("project", snapshot.toString(), "rig", rig.name()));
        } finally {
            Folders.delete(snapshot);
        }
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                deploy(process, part, place.device(), images.get(part));
            }
        });
        step("Prepare to run");
        Map<String, String> code = new LinkedHashMap<>();
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.CODE) {
                code.put(part, images.get(part).file().toAbsolutePath().toString());
            }
        });
        JsonNode answer = control.ask("prepare", Map.of("images", code, "lossless", Double.isInfinite(options.speed())));
        Map<String, Integer> ports = new LinkedHashMap<>();
        answer.path("xcp").properties().forEach(e -> ports.put(e.getKey(), e.getValue().asInt()));
        return new BenchRun(review, rig, options, process, images, ports);
    }

    private void deploy(BenchProcess process, String part, String board, Image image) {
        var control = process.control();
        step("Check the link to " + board);
        JsonNode id = control.ask("identify", Map.of("part", part));
        progress.log(id.path("title").asString("") + ", serial " + id.path("serial").asString("") + ", "
                + id.path("flash").asLong(0) / 1024 + " KiB flash");
        if (!id.path("board").asString("").equals(board)) {
            throw FindingException.of("rig " + rigName + " · " + part, "The device is a " + id.path("title").asString("?")
                    + ", the rig wants " + board + ".", "Connect the right device, or choose another in the rig.");
        }
        step("Download to " + board);
        try {
            byte[] bytes = Files.readAllBytes(image.file());
            control.ask("erase", Map.of("part", part, "bytes", bytes.length));
            for (int at = 0; at < bytes.length; at += PIECE) {
                if (progress.cancelled()) {
                    throw FindingException.of("rig " + rigName, "The download was cancelled.",
                            "Start again; the device holds no complete image now.");
                }
                byte[] piece = Arrays.copyOfRange(bytes, at, Math.min(bytes.length, at + PIECE));
                control.ask("program", Map.of("part", part, "offset", at, "data", Base64.getEncoder().encodeToString(piece)));
                progress.share((at + piece.length) / (double) bytes.length);
            }
        } catch (IOException e) {
            throw FindingException.of(image.file().toString(), "The image cannot be read: " + e.getMessage() + ".", "Build again.");
        }
        step("Verify");
        String digest = control.ask("digest", Map.of("part", part)).path("sha256").asString("");
        if (!digest.equals(image.sha256())) {
            throw FindingException.of("rig " + rigName + " · " + part, "The device holds another image than was downloaded.",
                    "Download again; if it happens again, check the link.");
        }
        progress.log("The device holds the image built here, " + image.bytes() + " bytes, SHA-256 "
                + digest.substring(0, 12) + "…");
    }

    /** The project as it is now, saved or not, for the other process to read. */
    private static Path snapshot(Project project) {
        try {
            Path folder = Files.createTempDirectory("bold-anvil");
            ProjectWriter.write(project, folder);
            return folder;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
