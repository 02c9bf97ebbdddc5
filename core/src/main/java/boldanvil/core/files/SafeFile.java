package boldanvil.core.files;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;

/**
 * The door through which files of a project come in: only regular files are read, never devices or pipes, only up to a size, and symbolic
 * links are not followed out of the folder.
 */
public final class SafeFile {
    private SafeFile() {}

    /**
     * The path of a file within a folder.
     *
     * @throws FindingException when the name is not a path, or leads out of the folder
     */
    public static Path within(Path folder, String name) {
        try {
            Path root = folder.toAbsolutePath().normalize();
            Path file = root.resolve(name).normalize();
            if (!file.startsWith(root) || file.equals(root)) {
                throw FindingException.of(folder.toString(), "'" + name + "' lies outside the folder.",
                        "Copy the file into the folder, and name it there.");
            }
            return folder.resolve(root.relativize(file));
        } catch (InvalidPathException e) {
            throw FindingException.of(folder.toString(), "A file's name cannot be used on this machine.",
                    "Name the file with letters, digits and dots.");
        }
    }

    /** Whether there is a regular file that does not lead out of a folder. */
    public static boolean exists(Path folder, Path file) {
        return Files.isRegularFile(file) && staysWithin(folder, file);
    }

    /**
     * A file that is missing, or may be read.
     *
     * @throws FindingException when it is not a regular file, or leads out of the folder
     */
    public static Path checked(Path folder, Path file) {
        if (Files.exists(file) && !exists(folder, file)) {
            throw FindingException.of(file.toString(), "This is not a regular file of the project's folder.",
                    "Copy the file itself there; devices, pipes and links to other places "
                    + "are not read.");
        }
        return file;
    }

    private static boolean staysWithin(Path folder, Path file) {
        try {
            return file.toRealPath().startsWith(folder.toRealPath());
        } catch (IOException e) {
            return false;
        }
    }

    /**
     * Reads a file of a folder.
     *
     * @param most bytes
     * @throws FindingException when it is missing, no regular file, too large, or leads out of the folder
     */
    public static byte[] bytes(Path folder, Path file, long most) {
        if (Files.exists(file, LinkOption.NOFOLLOW_LINKS) && !staysWithin(folder, file)) {
            throw FindingException.of(file.toString(), "The file is a link to a place outside the project's folder.",
                    "Copy the file itself into the folder.");
        }
        return bytes(file, most);
    }

    /** Reads a file from wherever it lies. */
    public static byte[] bytes(Path file, long most) {
        String place = file.toString();
        try {
            if (!Files.exists(file)) {
                throw FindingException.of(place, "There is no such file.", "Check the path, or restore the file.");
            }
            if (!Files.isRegularFile(file)) {
                throw FindingException.of(place, "This is not a regular file.",
                        "Replace it by a regular file; folders, devices and pipes are not read.");
            }
            if (Files.size(file) > most) {
                throw FindingException.of(place, "The file has " + (Files.size(file) >> 20) + " MiB; " + (most >> 20)
                        + " MiB is the limit.",
                        "It is damaged or of another type; restore it.");
            }
            try (var in = Files.newInputStream(file)) {
                // It may have grown since it was looked at.
                byte[] all = in.readNBytes((int) Math.min(most + 1, Integer.MAX_VALUE - 8));
                if (all.length > most) {
                    throw FindingException.of(place, "The file is growing while it is read.", "Wait until it is written, then try again.");
                }
                return all;
            }
        } catch (NoSuchFileException e) {
            throw FindingException.of(place, "There is no such file.", "Check the path, or restore the file.");
        } catch (IOException e) {
            throw FindingException.of(place, "The file cannot be read: " + e.getMessage() + ".", "Check its permissions.");
        }
    }

    /**
     * The files of a folder that end in {@code .json}, sorted; none where there is no folder.
     *
     * @throws FindingException when the folder cannot be read
     */
    public static List<Path> jsonFiles(Path folder) {
        return files(folder, List.of(".json"));
    }

    /** The files of a folder that end in one of some ways, sorted; none where there is no folder. */
    static List<Path> files(Path folder, List<String> endings) {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (var files = Files.list(folder)) {
            return files.filter(f -> endings.stream().anyMatch(f.getFileName().toString()::endsWith)).sorted().toList();
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The folder cannot be read: " + e.getMessage() + ".", "Check its permissions.");
        }
    }

    /** Reads a text in UTF-8 of a folder. */
    public static String text(Path folder, Path file, long most) {
        return decoded(file, bytes(folder, file, most));
    }

    /** Reads a text in UTF-8 from wherever it lies. */
    public static String text(Path file, long most) {
        return decoded(file, bytes(file, most));
    }

    private static String decoded(Path file, byte[] bytes) {
        try {
            return StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
        } catch (CharacterCodingException e) {
            throw FindingException.of(file.toString(), "The file is not a text in UTF-8.", "Save it as UTF-8.");
        }
    }
}
