package boldanvil.core.evidence;

import boldanvil.core.build.Image;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.TextsHash;
import java.util.LinkedHashMap;
import java.util.Map;

/** What made a run: hashes of the project's files and of images, and the versions of what ran them. */
final class Made {
    private Made() {}

    static Map<String, String> of(Project project, Map<String, Image> images) {
        Map<String, String> made = new LinkedHashMap<>();
        made.put("project", project.name());
        made.put("SHA-256 of the project", TextsHash.of(ProjectWriter.files(project)));
        made.put("SHA-256 of its trials", TextsHash.of(project.trials()));
        images.forEach((part, image) -> made.put("SHA-256 of the image of " + part, image.sha256()));
        made.put("Java", System.getProperty("java.vm.name") + " " + System.getProperty("java.runtime.version"));
        made.put("system", System.getProperty("os.name") + " " + System.getProperty("os.arch"));
        return made;
    }
}
