package boldanvil.core.compare;

import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Place;

/**
 * One difference between two projects.
 *
 * @param what such as {@code block} or {@code wire}
 * @param place where it is, in the newer project where it is there
 * @param item what of it differs; empty for the whole
 * @param before its text in the older project; empty where it is not there
 * @param after its text in the newer project; empty where it is not there
 * @param layout whether only the drawing differs
 * @param sheet the sheet it is on; null for what is on none
 * @param id of the block on that sheet; empty for others
 */
public record Change(Kind kind, String what, Place place, String item, String before, String after, boolean layout, SheetRef sheet,
        String id) {
    /** What became of it. */
    public enum Kind {
        ADDED, REMOVED, CHANGED;

        /** Such as {@code added}. */
        public String label() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** The difference in one line, without its place. */
    public String text() {
        String name = item.isEmpty() ? what : what.equals("block") ? item : what + " " + item;
        return switch (kind) {
            case ADDED -> name + " added" + (after.isEmpty() ? "" : ": " + after);
            case REMOVED -> name + " removed" + (before.isEmpty() ? "" : ": " + before);
            case CHANGED -> name + ": " + shown(before) + " → " + shown(after);
        };
    }

    private static String shown(String text) {
        String line = text.replace("\n", " ⏎ ");
        return line.isEmpty() ? "(empty)" : line.length() > 80 ? line.substring(0, 80) + "…" : line;
    }
}
