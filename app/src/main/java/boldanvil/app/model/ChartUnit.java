package boldanvil.app.model;

import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;

/**
 * How the values of a chart's axis follow from SI values.
 *
 * @param unit the axis' unit
 * @param base what 1 on the axis is, in that unit, for per-unit axes; else 1
 */
public record ChartUnit(Unit unit, double base) {
    /** The unit of a chart's left or right axis. */
    public static ChartUnit of(Chart c, boolean onRight) {
        return new ChartUnit(Units.orOne(onRight ? c.rightUnit() : c.unit()), !onRight && c.base() > 0 ? c.base() : 1);
    }

    /** An SI value, on the axis. */
    public double at(double si) {
        return unit.fromSi(si) / base;
    }

    /** A difference of two SI values, on the axis. */
    public double difference(double si) {
        return unit.differenceFromSi(si) / base;
    }
}
