package boldanvil.core.build;

import boldanvil.core.c.CFile;
import boldanvil.core.finding.FindingException;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/** Writes generated files and compiles them to an image. What has not changed since the last build is not compiled again. */
public final class Builder {
    private final Path folder;
    private final Consumer<String> log;
    private final BooleanSupplier cancelled;

    /**
     * @param folder where files and image go; made when missing
     * @param log gets each line of the build's log
     * @param cancelled asked now and then; ends the build when it says true
     */
    public Builder(Path folder, Consumer<String> log, BooleanSupplier cancelled) {
        this.folder = folder;
        this.log = log;
        this.cancelled = cancelled;
    }

    /** Writes files into a folder, leaving alone those whose text is the same. */
    public static void write(List<CFile> files, Path folder) {
        try {
            Files.createDirectories(folder);
            for (CFile f : files) {
                Path file = folder.resolve(f.name());
                if (!Files.exists(file) || !Files.readString(file).equals(f.text())) {
                    Files.writeString(file, f.text());
                }
            }
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "Generated files cannot be written: " + e.getMessage() + ".",
                    "Check the disk and the folder's permissions.");
        }
    }

    /** Compiles a part. */
    public Image build(Program program, Sources sources) {
        Path gcc = Toolchain.compiler();
        write(sources.files(), folder);
        Path library = folder.resolve(program.name() + ".so");
        List<String> command = new ArrayList<>(List.of(gcc.toString()));
        command.addAll(Sources.FLAGS);
        command.addAll(List.of("-fPIC", "-shared", "-o", library.getFileName() + ".new"));
        command.addAll(sources.compiled());
        command.add("-lm");
        String stamp = stamp(sources, command);
        Path stampFile = folder.resolve(program.name() + ".stamp");
        try {
            boolean same = Files.exists(library) && Files.exists(stampFile)
                    && Files.readString(stampFile).equals(stamp + " " + sha256(Files.readAllBytes(library)));
            if (same) {
                log.accept("Unchanged since the last build: " + library.getFileName());
            } else {
                compile(command, library);
                Files.writeString(stampFile, stamp + " " + sha256(Files.readAllBytes(library)));
            }
            byte[] bytes = Files.readAllBytes(library);
            return new Image(library, sha256(bytes), bytes.length, codeBytes(library), Layout.of(program).size(), !same, command);
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The image cannot be written: " + e.getMessage() + ".",
                    "Check the disk and the folder's permissions.");
        }
    }

    private void compile(List<String> command, Path library) throws IOException {
        log.accept(String.join(" ", command));
        var outcome = Toolchain.run(command, folder, cancelled);
        outcome.output().lines().forEach(log);
        if (outcome.status() != 0) {
            throw FindingException.of("build · " + library.getFileName(), "gcc ended with status " + outcome.status() + ": "
                    + outcome.output().lines().filter(l -> l.contains("error")).findFirst().orElse("see the log") + ".",
                    "Read the build log; if the generated code is at fault, please report the sheet.");
        }
        Files.move(library.resolveSibling(library.getFileName() + ".new"), library,
                java.nio.file.StandardCopyOption.REPLACE_EXISTING);
        log.accept("Built " + library.getFileName());
    }

    /** Machine code and constants by the tool {@code size}; 0 where that is not installed. */
    private long codeBytes(Path library) {
        if (Toolchain.find("size").isEmpty()) {
            return 0;
        }
        var outcome = Toolchain.run(List.of("size", "-B", library.getFileName().toString()), folder, cancelled);
        String[] lines = outcome.output().split("\n");
        return outcome.status() == 0 && lines.length > 1 ? Long.parseLong(lines[1].strip().split("\\s+")[0]) : 0;
    }

    private static String stamp(Sources sources, List<String> command) {
        var all = new StringBuilder(String.join(" ", command));
        sources.files().forEach(f -> all.append('\0').append(f.name()).append('\0').append(f.text()));
        return sha256(all.toString().getBytes(StandardCharsets.UTF_8));
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
