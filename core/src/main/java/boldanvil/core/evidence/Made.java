package boldanvil.core.evidence;

import boldanvil.core.build.Image;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectWriter;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;

/** What made a run: hashes of the project's files and of images, and the versions of what ran them. */
final class Made {
    private Made() {}

    static Map<String, String> of(Project project, Map<String, Image> images) {
        Map<String, String> made = new LinkedHashMap<>();
        made.put("project", project.name());
        made.put("SHA-256 of the project", hash(ProjectWriter.files(project)));
        made.put("SHA-256 of its trials", hash(project.trials()));
        images.forEach((part, image) -> made.put("SHA-256 of the image of " + part, image.sha256()));
        made.put("Java", System.getProperty("java.vm.name") + " " + System.getProperty("java.runtime.version"));
        made.put("system", System.getProperty("os.name") + " " + System.getProperty("os.arch"));
        return made;
    }

    /** A hash of texts and their names, in the order of the names. */
    private static String hash(Map<String, String> texts) {
        try {
            var digest = MessageDigest.getInstance("SHA-256");
            new TreeMap<>(texts).forEach((name, text) -> {
                digest.update((name + "\n" + text.length() + "\n").getBytes(StandardCharsets.UTF_8));
                digest.update(text.getBytes(StandardCharsets.UTF_8));
            });
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
