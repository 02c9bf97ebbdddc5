package boldanvil.core.trial;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/** Changes single lines of a trial's text and leaves all others as they are. Lines count from 1. */
public final class TrialLines {
    private static final int REQUIREMENTS_AT = 68;

    private TrialLines() {}

    private static List<String> lines(String text) {
        return new ArrayList<>(Arrays.asList(text.split("\\R", -1)));
    }

    private static String joined(List<String> lines) {
        return String.join("\n", lines);
    }

    private static String indentation(String line) {
        return line.substring(0, line.length() - line.stripLeading().length());
    }

    /** The text with another step in a line. */
    public static String replace(String text, int line, String step, List<String> requirements) {
        var all = lines(text);
        all.set(line - 1, indentation(all.get(line - 1)) + written(step, requirements));
        return joined(all);
    }

    private static String written(String step, List<String> requirements) {
        return requirements.isEmpty() ? step.strip() : String.format("%-" + REQUIREMENTS_AT + "s [%s]", step.strip(),
                String.join(", ", requirements));
    }

    /** The text with one more step below a line, indented as that; at the end for a line below the last. */
    public static String insertBelow(String text, int line, String step) {
        var all = lines(text);
        int at = Math.clamp(line, 0, all.size());
        if (at == all.size() && at > 0 && all.getLast().isBlank()) {
            at--;
        }
        all.add(at, (line > 0 && line <= all.size() ? indentation(all.get(line - 1)) : "") + step);
        return joined(all);
    }

    public static String remove(String text, int line) {
        var all = lines(text);
        all.remove(line - 1);
        return joined(all);
    }

    /** The text with two lines exchanged, the second of which is the next step up or down. */
    public static String exchange(String text, int line, int other) {
        var all = lines(text);
        String kept = all.get(line - 1);
        all.set(line - 1, all.get(other - 1));
        all.set(other - 1, kept);
        return joined(all);
    }

    /** A name that no trial has: a stem with a number. */
    public static String freeName(Map<String, String> files, String stem) {
        int n = 1;
        while (!files.getOrDefault(stem + "-" + n + Trial.ENDING, "").isBlank()) {
            n++;
        }
        return stem + "-" + n;
    }

    /** What a new trial begins with. */
    public static String fresh(String title, String rig) {
        return "trial " + title + "\nrigs " + rig + "\nlimit 10 s\n\nwait 1 s\n";
    }
}
