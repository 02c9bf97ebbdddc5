package boldanvil.core.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * How the files of a project are on disk, to notice cheaply that another program changed them.
 *
 * @param files size and time of the last change of each, by path within the folder
 */
public record DiskState(Map<String, String> files) {
    /** No files at all. */
    public static final DiskState NONE = new DiskState(Map.of());
    private static final int MOST = 20_000;

    public DiskState {
        files = Map.copyOf(files);
    }

    /** The state now. What cannot be read counts as not there. */
    public static DiskState of(Path folder) {
        Map<String, String> found = new TreeMap<>();
        for (String name : Stream.concat(Stream.of(""), ProjectReader.FOLDERS.stream()).toList()) {
            try (var files = Files.list(folder.resolve(name))) {
                for (Path f : files.filter(f -> ProjectReader.isOfProject(f.getFileName().toString())).limit(MOST).toList()) {
                    var a = Files.readAttributes(f, BasicFileAttributes.class);
                    found.put(folder.relativize(f).toString(), a.size() + " " + a.lastModifiedTime().toInstant());
                }
            } catch (IOException e) {
                // Not there, or just being replaced; the next look sees it.
            }
        }
        return new DiskState(found);
    }
}
