package boldanvil.core.trial;

import boldanvil.core.finding.Finding;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The trials of a project, with the recorded courses they compare with. */
public final class TrialSet {
    private final Map<String, TrialReader.Result> trials = new LinkedHashMap<>();
    private final Map<String, String> files;

    /** @param files texts by file name */
    public TrialSet(Map<String, String> files) {
        this.files = Map.copyOf(files);
        files.keySet().stream().filter(f -> f.endsWith(Trial.ENDING)).sorted().forEach(f -> {
            String name = f.substring(0, f.length() - Trial.ENDING.length());
            trials.put(name, TrialReader.read(name, files.get(f)));
        });
    }

    /** All trials, by name. */
    public List<Trial> all() {
        return trials.values().stream().map(TrialReader.Result::trial).toList();
    }

    public Optional<Trial> find(String name) {
        return Optional.ofNullable(trials.get(name)).map(TrialReader.Result::trial);
    }

    /** What is wrong with the text of a trial. */
    public List<Finding> findings(String name) {
        return trials.containsKey(name) ? trials.get(name).findings() : List.of();
    }

    /** A recorded course as CSV: times in seconds, and a column for each signal; empty when there is none of this name. */
    Optional<String> course(String name) {
        return Optional.ofNullable(files.get(name + ".csv"));
    }
}
