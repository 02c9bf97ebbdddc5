package boldanvil.core.runs;

/**
 * Something that happened at an instant of a run.
 *
 * @param seconds when, simulated time
 * @param text what, for people
 */
public record Mark(double seconds, Kind kind, String text) {
    /** What kinds of things happen. */
    public enum Kind {
        CHANGE("change"), FAULT("fault"), MODE("mode"), LIMIT("limit"), NOTE("note");

        private final String label;

        Kind(String label) {
            this.label = label;
        }

        /** Its name for people. */
        public String label() {
            return label;
        }
    }
}
