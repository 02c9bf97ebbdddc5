package boldanvil.core.diagram;

import java.util.List;

/** What the bench page shows: controls on the left, trace charts on the right. */
public record BenchLayout(List<Control> controls, List<Chart> charts) {
    public static final BenchLayout EMPTY = new BenchLayout(List.of(), List.of());

    /** The shapes a control can have. */
    public enum Shape { DIAL, SLIDER, SWITCH, BUTTON, NUMBER }

    /**
     * A live control.
     *
     * @param tunable full address, such as {@code controller.target}
     * @param unit unit in which it is shown
     * @param minimum least value, in that unit
     * @param maximum greatest value, in that unit
     * @param rate fastest change in unit/s; 0 for no limit
     */
    public record Control(Shape shape, String title, String tunable, String unit, double minimum, double maximum,
            double rate) {}

    /**
     * A chart pane.
     *
     * @param taps full addresses
     * @param unit unit in which all its taps are shown; empty for SI as is
     */
    public record Chart(String title, String unit, List<String> taps) {
        public Chart {
            taps = List.copyOf(taps);
        }
    }

    public BenchLayout {
        controls = List.copyOf(controls);
        charts = List.copyOf(charts);
    }
}
