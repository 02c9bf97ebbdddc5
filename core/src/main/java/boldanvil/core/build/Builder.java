package boldanvil.core.build;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.user.UserKey;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/**
 * Writes generated files and compiles them to an image. Each file is compiled only when it, a header or the command has changed; beside
 * each object lies a stamp that shows what it was made from, and that this user's key made it. Two builds in one folder wait for each
 * other.
 */
public final class Builder {
    private final Path folder;
    private final Target target;
    private final Consumer<String> log;
    private final BooleanSupplier cancelled;

    /**
     * @param folder where files and image go; made when missing
     * @param log gets each line of the build's log
     * @param cancelled asked now and then; ends the build when it says true
     */
    public Builder(Path folder, Consumer<String> log, BooleanSupplier cancelled) {
        this(folder, Target.HOST, log, cancelled);
    }

    /** As above, for another target than this machine. */
    public Builder(Path folder, Target target, Consumer<String> log, BooleanSupplier cancelled) {
        this.folder = folder;
        this.target = target;
        this.log = log;
        this.cancelled = cancelled;
    }

    /** Writes files into a folder, leaving alone those whose text is the same. */
    public static void write(List<GeneratedFile> files, Path folder) {
        try {
            Files.createDirectories(folder);
            for (GeneratedFile f : files) {
                Path file = folder.resolve(f.name());
                if (Files.isSymbolicLink(file)) {
                    // A link in a project must not lead a build out of its folder.
                    Files.delete(file);
                }
                if (!Files.isRegularFile(file) || !Files.readString(file).equals(f.text())) {
                    Files.writeString(file, f.text());
                }
            }
        } catch (IOException e) {
            throw unwritable(folder, e);
        }
    }

    private static FindingException unwritable(Path folder, IOException e) {
        return FindingException.of(folder.toString(), "Files of the build cannot be written: " + e.getMessage() + ".",
                "Check the disk and the folder's permissions.");
    }

    /**
     * Compiles a part.
     *
     * @throws FindingException when the compiler is missing, refuses the files, or the build is cancelled
     */
    public Image build(Program program, Sources sources) {
        target.orThrow();
        try (var _ = FolderLock.wait(folder, log, cancelled)) {
            return buildLocked(program, sources);
        }
    }

    private Image buildLocked(Program program, Sources sources) {
        write(sources.files(), folder);
        Path image = folder.resolve(program.name() + target.ending());
        try {
            List<String> fresh = new ArrayList<>();
            for (String file : sources.compiled()) {
                if (compile(file, sources)) {
                    fresh.add(file);
                }
            }
            List<String> objects = sources.compiled().stream().map(Builder::object).toList();
            List<String> link = new ArrayList<>(List.of(target.compiler()));
            link.addAll(target.linking());
            link.addAll(List.of("-o", image.getFileName() + ".new"));
            link.addAll(objects);
            link.addAll(target.libraries());
            var stamp = new StringBuilder(String.join(" ", link));
            sources.files().stream().filter(f -> f.name().endsWith(".ld")).forEach(f -> stamp.append(f.text()));
            for (String o : objects) {
                stamp.append(' ').append(sha256(Files.readAllBytes(folder.resolve(o))));
            }
            Path stampFile = folder.resolve(program.name() + ".stamp");
            boolean same = Files.exists(image) && Files.exists(stampFile)
                    && isOurs(Files.readString(stampFile).lines().findFirst().orElse(""), "image",
                    stamp + sha256(Files.readAllBytes(image)));
            Image.Sizes sizes;
            if (same) {
                log.accept("Unchanged since the last build: " + image.getFileName());
                sizes = sizes(Files.readString(stampFile));
            } else {
                if (fresh.isEmpty()) {
                    fresh.add(image.getFileName().toString());
                }
                run(link, sources);
                Files.move(folder.resolve(image.getFileName() + ".new"), image, StandardCopyOption.REPLACE_EXISTING);
                sizes = measured(sources);
                Files.writeString(stampFile, tag("image", stamp + sha256(Files.readAllBytes(image))) + "\n" + sizes.code() + " "
                        + sizes.data() + " " + sizes.zeroed() + " " + sizes.stack() + "\n");
                log.accept("Built " + image.getFileName());
            }
            byte[] bytes = Files.readAllBytes(image);
            return new Image(image, sha256(bytes), sources.stamp(), bytes.length, sizes, Layout.of(program).size(), fresh,
                    command(sources.compiled().getFirst()));
        } catch (IOException e) {
            throw unwritable(folder, e);
        }
    }

    private static String object(String file) {
        return file.substring(0, file.lastIndexOf('.')) + ".o";
    }

    private List<String> command(String file) {
        List<String> command = new ArrayList<>(List.of(target.compiler()));
        command.addAll(Sources.FLAGS);
        command.addAll(target.compile());
        command.addAll(List.of("-fcallgraph-info=su", "-c", "-o", object(file), file));
        return command;
    }

    /** Compiles one file; false when its object is as it should be already. */
    private boolean compile(String file, Sources sources) throws IOException {
        List<String> command = command(file);
        var made = new StringBuilder(String.join(" ", command));
        sources.files().stream().filter(f -> f.name().equals(file) || f.name().endsWith(".h"))
                .forEach(f -> made.append('\0').append(f.name()).append('\0').append(f.text()));
        String stamp = sha256(made.toString());
        Path object = folder.resolve(object(file));
        Path stampFile = folder.resolve(object(file) + ".stamp");
        if (Files.exists(object) && Files.exists(stampFile) && isOurs(Files.readString(stampFile), "object",
                stamp + " " + sha256(Files.readAllBytes(object)))) {
            return false;
        }
        Files.deleteIfExists(stampFile);
        log.accept(String.join(" ", command));
        run(command, sources);
        Files.writeString(stampFile, tag("object", stamp + " " + sha256(Files.readAllBytes(object))));
        return true;
    }

    private void run(List<String> command, Sources sources) {
        var outcome = Toolchain.run(command, folder, cancelled);
        outcome.output().lines().map(l -> CompilerMessages.traced(l, sources.files())).forEach(log);
        if (outcome.status() != 0) {
            var findings = new ArrayList<>(CompilerMessages.findings(outcome.output(), sources.files()).stream().filter(Finding::isError)
                    .toList());
            if (findings.isEmpty()) {
                findings.add(Finding.error(Place.build(folder.getFileName().toString()),
                        command.getFirst() + " ended with status " + outcome.status() + ": "
                        + outcome.output().lines().findFirst().orElse("it printed nothing") + ".",
                        "Read the build log; if the generated code is wrong, please report the sheet."));
            }
            throw new FindingException(findings);
        }
    }

    /** What the tool {@code size} and the call graphs report of the objects. */
    private Image.Sizes measured(Sources sources) throws IOException {
        long[] sum = new long[3];
        if (Toolchain.find(target.size()).isPresent()) {
            List<String> command = new ArrayList<>(List.of(target.size(), "-B"));
            sources.compiled().forEach(f -> command.add(object(f)));
            var outcome = Toolchain.run(command, folder, cancelled);
            String[] lines = outcome.output().split("\n");
            for (int i = 1; i < lines.length && outcome.status() == 0; i++) {
                String[] words = lines[i].strip().split("\\s+");
                for (int k = 0; k < 3; k++) {
                    sum[k] += Long.parseLong(words[k]);
                }
            }
        }
        List<String> graphs = new ArrayList<>();
        for (String f : sources.compiled()) {
            Path graph = folder.resolve(f.substring(0, f.lastIndexOf('.')) + ".ci");
            if (Files.exists(graph)) {
                graphs.add(Files.readString(graph));
            }
        }
        return new Image.Sizes(sum[0], sum[1], sum[2], StackUse.of(graphs));
    }

    private static Image.Sizes sizes(String stamp) {
        String[] n = stamp.lines().skip(1).findFirst().orElse("0 0 0 0").split(" ");
        return new Image.Sizes(Long.parseLong(n[0]), Long.parseLong(n[1]), Long.parseLong(n[2]), Long.parseLong(n[3]));
    }

    /** A stamp is a tag of this user's key: what came with a project, or was put there by someone else, is compiled again. */
    private static String tag(String purpose, String what) {
        return UserKey.get().tag("build " + purpose, what.getBytes(StandardCharsets.UTF_8));
    }

    private static boolean isOurs(String tag, String purpose, String what) {
        return UserKey.get().accepts(tag.strip(), "build " + purpose, what.getBytes(StandardCharsets.UTF_8));
    }

    /** SHA-256 of a text in hexadecimal. */
    static String sha256(String text) {
        return sha256(text.getBytes(StandardCharsets.UTF_8));
    }

    /** SHA-256 in hexadecimal. */
    public static String sha256(byte[] bytes) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
