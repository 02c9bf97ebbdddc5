package boldanvil.core.stock;

import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import java.util.Map;

/** The values of a block's parameters, as far as they are known; for pictures. SI units. */
public record Values(Settings settings, Map<String, Quantity> variables) {
    /** The text of a parameter. */
    public String text(String parameter) {
        return settings.text(parameter);
    }

    /** The value of a number; NaN where it cannot be computed. */
    public double number(String parameter) {
        try {
            return Formula.quantity(text(parameter), variables).value();
        } catch (FormulaException e) {
            return Double.NaN;
        }
    }

    /** The values of a list, row by row; empty where it cannot be computed. */
    public double[] list(String parameter) {
        try {
            return Formula.evaluateList(text(parameter), variables);
        } catch (FormulaException e) {
            return new double[0];
        }
    }

    /** The number of rows of a matrix; 0 where it cannot be computed. */
    public int rows(String parameter) {
        try {
            return Formula.rows(text(parameter), variables);
        } catch (FormulaException e) {
            return 0;
        }
    }
}
