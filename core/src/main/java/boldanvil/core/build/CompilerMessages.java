package boldanvil.core.build;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.output.GeneratedFile;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** Reads what a compiler says (GNU form, {@code file:line:column: error: text}) and finds the blocks it is about. */
final class CompilerMessages {
    private static final Pattern MESSAGE = Pattern.compile("^(?:.*/)?([^/:\\s]+):(\\d+):(?:\\d+:)? (?:fatal )?(error|warning): (.*)$");
    private static final int MOST = 10;

    private CompilerMessages() {}

    /** Errors and warnings, each at its block where its line comes from one. */
    static List<Finding> findings(String output, List<GeneratedFile> files) {
        List<Finding> all = new ArrayList<>();
        for (String line : output.split("\n")) {
            var m = MESSAGE.matcher(line);
            if (m.matches() && all.size() < MOST) {
                String where = m.group(1) + ":" + m.group(2);
                String block = place(files, m.group(1), Integer.parseInt(m.group(2)));
                Place place = block.isEmpty() ? Place.build(where) : Place.sheet(block);
                String cause = "Compiler message in " + where + ": " + m.group(4) + ".";
                String cure = block.isEmpty() ? "Read the build log; if the generated code is wrong, please report the sheet."
                        : "Check this block; if the generated code is wrong, please report the sheet.";
                all.add(m.group(3).equals("error") ? Finding.error(place, cause, cure) : Finding.warning(place, cause, cure));
            }
        }
        return all;
    }

    /** The block of a line, or of the last line before it that has one and is not a function away. */
    private static String place(List<GeneratedFile> files, String name, int line) {
        for (GeneratedFile f : files) {
            if (f.name().equals(name)) {
                String[] text = f.text().split("\n", -1);
                for (int l = Math.min(line, text.length); l > 0; l--) {
                    String place = f.places().get(l);
                    if (place != null && place.contains("/")) {
                        return place;
                    }
                    if (text[l - 1].startsWith("}") || text[l - 1].startsWith("{")) {
                        return "";
                    }
                }
            }
        }
        return "";
    }

    /** The log line with the block's place behind it. */
    static String traced(String line, List<GeneratedFile> files) {
        var m = MESSAGE.matcher(line);
        String place = m.matches() ? place(files, m.group(1), Integer.parseInt(m.group(2))) : "";
        return place.isEmpty() ? line : line + "  [" + place + "]";
    }
}
