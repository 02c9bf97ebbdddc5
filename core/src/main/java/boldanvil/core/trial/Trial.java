package boldanvil.core.trial;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import java.util.List;

/**
 * A trial as it is written.
 *
 * @param name of its file, without ending
 * @param title what it shows, in a sentence
 * @param rigs rigs it is for; empty for every rig
 * @param tags words by which trials are chosen
 * @param covers requirements the trial as a whole shows
 * @param limit most simulated time it takes
 */
public record Trial(String name, String title, List<String> rigs, List<String> tags, List<String> covers, String limit, List<Step> steps) {
    /** What files of trials end with. */
    public static final String ENDING = ".trial";
    /** Limit where a trial states none. */
    public static final String USUAL_LIMIT = "60 s";

    public Trial {
        rigs = List.copyOf(rigs);
        tags = List.copyOf(tags);
        covers = List.copyOf(covers);
        steps = List.copyOf(steps);
    }

    /** The rigs it is for, in its own order; all of the project where it names none. */
    public List<String> suitedRigs(Project project) {
        return rigs.isEmpty() ? project.rigs().stream().map(Rig::name).toList() : rigs;
    }

    /** Whether it is for a rig. */
    public boolean isFor(String rig) {
        return rigs.isEmpty() || rigs.contains(rig);
    }
}
