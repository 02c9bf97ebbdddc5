package boldanvil.core.study;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * The runs of a study divided among machines: shard k of n has every n-th run, so that each gets its share of easy and hard ones. Files of
 * shards have the number of the run in their first column, and in a line before the heads what all of them must have in common.
 */
public final class Shards {
    private static final String MARK = "# study ";

    private Shards() {}

    /**
     * A share of the runs.
     *
     * @param number from 1
     */
    public record Shard(int number, int of) {
        public Shard {
            if (of < 1 || number < 1 || number > of) {
                throw new IllegalArgumentException("shard " + number + " of " + of);
            }
        }

        /** The shard a text such as {@code 3/16} names; a finding at a place when it names none. */
        public static Shard of(String place, String text) {
            String[] parts = text.split("/");
            try {
                if (parts.length == 2) {
                    return new Shard(Integer.parseInt(parts[0].strip()), Integer.parseInt(parts[1].strip()));
                }
            } catch (IllegalArgumentException e) {
                // Said below.
            }
            throw FindingException.of(place, "'" + text + "' is not a shard.", "Write its number and how many there are, such as 3/16.");
        }

        /** Numbers of the runs it has, from 1. */
        public List<Integer> runs(int all) {
            List<Integer> mine = new ArrayList<>();
            for (int i = number; i <= all; i += of) {
                mine.add(i);
            }
            return mine;
        }
    }

    /**
     * The lines at the top of a shard's file.
     *
     * @param study what identifies the study, such as a hash of the project and of the plan
     * @param all number of runs of the whole study
     * @param head of the lines of runs
     */
    public static List<String> heads(String study, int all, String head) {
        return List.of(MARK + study + " of " + all + " runs", "run," + head);
    }

    /** The line of a run in a shard's file. */
    public static String line(int run, String line) {
        return run + "," + line;
    }

    /**
     * Puts the files of all shards together.
     *
     * @param files lines by name of the file
     * @return a head, and a line for each run, in order
     * @throws FindingException when a file is of another study, a run is there twice with other results, or runs are missing
     */
    public static List<String> merged(Map<String, List<String>> files) {
        String mark = null;
        String head = null;
        Map<Integer, String> runs = new TreeMap<>();
        for (var f : files.entrySet()) {
            List<String> lines = f.getValue();
            if (lines.size() < 2 || !lines.getFirst().startsWith(MARK) || !lines.get(1).startsWith("run,")) {
                throw FindingException.of(f.getKey(), "This is not a file of a shard.", "Name files that 'sweep --shard' has written.");
            }
            if (mark != null && (!mark.equals(lines.getFirst()) || !lines.get(1).equals(head))) {
                throw FindingException.of(f.getKey(), "It belongs to another study than the files before.",
                        "Merge shards of the same project and command only.");
            }
            mark = lines.getFirst();
            head = lines.get(1);
            for (String l : lines.subList(2, lines.size())) {
                int comma = l.indexOf(',');
                int run = number(f.getKey(), comma < 0 ? l : l.substring(0, comma));
                String before = runs.put(run, l);
                if (before != null && !before.equals(l)) {
                    throw FindingException.of(f.getKey(), "Run " + run + " is there twice, with different results.",
                            "Find out which machine computes differently; the same run gives the same result.");
                }
            }
        }
        int all = mark == null ? 0 : number(files.keySet().iterator().next(), mark.replaceAll(".* of (\\d+) runs$", "$1"));
        if (runs.size() != all) {
            throw FindingException.of("merge", runs.size() + " of " + all + " runs are there; the first missing one is "
                    + missing(runs, all) + ".", "Name the files of all shards, or run the missing shard again.");
        }
        List<String> out = new ArrayList<>(List.of(head == null ? "" : head));
        out.addAll(runs.values());
        return out;
    }

    private static int missing(Map<Integer, String> runs, int all) {
        for (int i = 1; i <= all; i++) {
            if (!runs.containsKey(i)) {
                return i;
            }
        }
        return all;
    }

    private static int number(String place, String text) {
        try {
            return Integer.parseInt(text.strip());
        } catch (NumberFormatException e) {
            throw FindingException.of(place, "'" + text + "' is not the number of a run.", "Name files that 'sweep --shard' has written.");
        }
    }
}
