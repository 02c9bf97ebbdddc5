package boldanvil.core.files;

import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.UserFolder;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;

/** Own blocks in the folder of the user, for all projects. A project that uses one keeps a copy of its own. */
public final class UserBlocks {
    private UserBlocks() {}

    private static Path folder() {
        return UserFolder.find().map(f -> f.resolve("blocks")).orElseThrow(() -> FindingException.of("your folder",
                "The folder for your own blocks cannot be used.", "Check the permissions of your home folder."));
    }

    /**
     * All blocks that can be read.
     *
     * @param broken gets what is wrong with the others
     */
    public static Library read(Consumer<Finding> broken) {
        Library library = Library.EMPTY;
        try {
            Path folder = folder();
            for (Path file : SafeFile.jsonFiles(folder)) {
                try {
                    library = library.with(OwnBlockFile.read(JsonFile.read(SafeFile.checked(folder, file), "part"), file));
                } catch (FindingException e) {
                    e.findings().forEach(broken);
                }
            }
        } catch (FindingException e) {
            e.findings().forEach(broken);
        }
        return library;
    }

    /**
     * Keeps blocks for all projects; those with the same ids are replaced.
     *
     * @throws FindingException when a file cannot be written
     */
    public static void save(List<OwnBlock> blocks) {
        Path folder = folder();
        for (OwnBlock b : blocks) {
            Path file = folder.resolve(b.id() + OwnBlockFile.ENDING);
            try {
                Files.createDirectories(folder);
                WholeFile.write(file, to -> Files.writeString(to, OwnBlockFile.write(b)));
            } catch (IOException e) {
                throw FindingException.of(file.toString(), "The block cannot be saved: " + e.getMessage() + ".",
                        "Check the disk and the folder's permissions.");
            }
        }
    }
}
