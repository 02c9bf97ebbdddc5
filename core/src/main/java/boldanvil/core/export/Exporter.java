package boldanvil.core.export;

import boldanvil.core.diagram.Rig;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.review.Review;
import java.util.List;

/** Writes a part of a project as files of one kind. */
public interface Exporter {
    /** The name on the command line: small letters and hyphens. */
    String id();

    /** The name people read, such as {@code C99 source files}. */
    String title();

    /**
     * The files of a part.
     *
     * @param review a project without errors
     * @param rig where its parts run
     * @param part id of one of its parts
     * @throws boldanvil.core.finding.FindingException when this part cannot be written so
     */
    List<GeneratedFile> files(Review review, Rig rig, String part);
}
