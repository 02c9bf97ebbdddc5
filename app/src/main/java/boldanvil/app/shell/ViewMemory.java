package boldanvil.app.shell;

import boldanvil.app.page.Memory;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;

/**
 * Remembers the window and the last page of each project in the user's configuration folder. Forgetting is no harm, so it never complains.
 */
final class ViewMemory implements Memory {
    private final Path file = folder().resolve("views.properties");
    private final Properties known = new Properties();

    ViewMemory() {
        if (!Files.exists(file)) {
            return;
        }
        try (var in = Files.newBufferedReader(file)) {
            known.load(in);
        } catch (IOException | IllegalArgumentException e) {
            Log.ignored(ViewMemory.class, e, "The last page is not known; the first one is shown.");
        }
    }

    String page(Path project) {
        return known.getProperty(key(project), "");
    }

    void page(Path project, String name) {
        put(key(project), name);
    }

    @Override
    public String get(String key) {
        return known.getProperty(key, "");
    }

    @Override
    public void put(String key, String text) {
        if (text.equals(known.setProperty(key, text))) {
            return;
        }
        try {
            Files.createDirectories(file.getParent());
            try (var out = Files.newBufferedWriter(file)) {
                known.store(out, null);
            }
        } catch (IOException e) {
            Log.ignored(ViewMemory.class, e, "The state of the window cannot be stored.");
        }
    }

    /** The user's folder of settings; the one for everything else where that was chosen. */
    private static Path folder() {
        String chosen = System.getProperty(UserFolder.PROPERTY, "");
        return chosen.isEmpty() ? Path.of(System.getenv().getOrDefault("XDG_CONFIG_HOME", System.getProperty("user.home") + "/.config"),
                "bold-anvil") : Path.of(chosen);
    }

    private static String key(Path project) {
        return project.toAbsolutePath().normalize().toString();
    }
}
