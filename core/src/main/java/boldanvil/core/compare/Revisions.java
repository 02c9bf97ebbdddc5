package boldanvil.core.compare;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.storage.file.FileRepositoryBuilder;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.eclipse.jgit.treewalk.filter.PathFilter;

/** Earlier states of a project from the Git repository its folder lies in. The repository is only read. */
public final class Revisions {
    private static final long LARGEST = 64L << 20;

    private Revisions() {}

    /**
     * A revision.
     *
     * @param id its full name
     * @param when ISO 8601
     */
    public record Revision(String id, String when, String author, String message) {
        /** Enough of its name for people. */
        public String brief() {
            return id.substring(0, 10);
        }
    }

    private static Repository repository(Path folder) throws IOException {
        var builder = new FileRepositoryBuilder().findGitDir(folder.toAbsolutePath().toFile());
        if (builder.getGitDir() == null) {
            throw FindingException.of(folder.toString(), "The folder is not under version control.",
                    "Put the project into a Git repository, or compare two folders.");
        }
        return builder.setMustExist(true).build();
    }

    private static String inTree(Repository git, Path folder) throws IOException {
        Path top = git.getWorkTree().toPath().toRealPath();
        return top.relativize(folder.toRealPath()).toString().replace('\\', '/');
    }

    /**
     * The revisions that changed the project, newest first.
     *
     * @throws FindingException when the folder is not under version control
     */
    public static List<Revision> of(Path folder, int most) {
        try (var git = repository(folder)) {
            String path = inTree(git, folder);
            var log = new Git(git).log().setMaxCount(most);
            List<Revision> all = new ArrayList<>();
            for (RevCommit c : (path.isEmpty() ? log : log.addPath(path)).call()) {
                all.add(new Revision(c.name(), java.time.Instant.ofEpochSecond(c.getCommitTime()).toString(), c.getAuthorIdent().getName(),
                        c.getShortMessage()));
            }
            return all;
        } catch (IOException | GitAPIException e) {
            throw unreadable(folder, e);
        }
    }

    /**
     * The project as it was.
     *
     * @param revision any name Git understands, such as {@code HEAD~2} or a tag
     * @throws FindingException when there is no such revision, or the project was not there
     */
    public static Project read(Path folder, String revision) {
        Path copy = null;
        try (var git = repository(folder); var walk = new RevWalk(git)) {
            ObjectId id = git.resolve(revision + "^{commit}");
            if (id == null) {
                throw FindingException.of(folder.toString(), "There is no revision '" + revision + "'.",
                        "Name a commit, a branch or a tag.");
            }
            copy = TemporaryFiles.folder("revision");
            extract(git, walk.parseCommit(id), inTree(git, folder), copy);
            return ProjectReader.read(copy);
        } catch (IOException | org.eclipse.jgit.errors.RevisionSyntaxException e) {
            throw unreadable(folder, e);
        } finally {
            if (copy != null) {
                Folders.delete(copy);
            }
        }
    }

    private static FindingException unreadable(Path folder, Exception e) {
        return FindingException.of(folder.toString(), "The repository cannot be read: " + e.getMessage() + ".",
                "Check the repository with the tools of version control.");
    }

    /** Copies the files a project is read from. */
    private static void extract(Repository git, RevCommit commit, String path, Path to) throws IOException {
        try (var tree = new TreeWalk(git)) {
            tree.addTree(commit.getTree());
            tree.setRecursive(true);
            if (!path.isEmpty()) {
                tree.setFilter(PathFilter.create(path));
            }
            while (tree.next()) {
                String name = path.isEmpty() ? tree.getPathString() : tree.getPathString().substring(path.length() + 1);
                if (ProjectReader.reads(name) && tree.getFileMode(0).getObjectType() == org.eclipse.jgit.lib.Constants.OBJ_BLOB) {
                    Path file = to.resolve(name).normalize();
                    if (!file.startsWith(to)) {
                        continue;
                    }
                    Files.createDirectories(file.getParent());
                    Files.write(file, git.open(tree.getObjectId(0)).getCachedBytes((int) LARGEST));
                }
            }
        }
    }
}
