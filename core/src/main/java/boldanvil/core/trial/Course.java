package boldanvil.core.trial;

import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Series;
import java.util.Arrays;
import java.util.List;

/** Reads a recorded course: CSV with times in seconds in the first column, and a head such as {@code drive.position [mm]}. */
final class Course {
    private static final int MAX_ROWS = 5_000_000;

    private Course() {}

    /**
     * @param unit of the signal, where the head states none
     * @return values in SI
     * @throws IllegalArgumentException when there is no such column, or a value is not a number
     */
    static Series read(String name, String text, String signal, String unit) {
        List<String> lines = text.lines().filter(l -> !l.isBlank() && !l.startsWith("#")).limit(MAX_ROWS + 1L).toList();
        if (lines.size() < 2 || lines.size() > MAX_ROWS) {
            throw new IllegalArgumentException("The course '" + name + "' has no values, or more than " + MAX_ROWS + ".");
        }
        String[] head = cells(lines.getFirst());
        int column = -1;
        String given = unit;
        for (int i = 1; i < head.length; i++) {
            String h = head[i];
            int bracket = h.indexOf('[');
            if ((bracket < 0 ? h : h.substring(0, bracket)).strip().equals(signal)) {
                column = i;
                given = bracket < 0 ? unit : h.substring(bracket + 1).replace("]", "").strip();
            }
        }
        if (column < 0) {
            throw new IllegalArgumentException("The course '" + name + "' has no column '" + signal + "'.");
        }
        double[] times = new double[lines.size() - 1];
        double[] values = new double[times.length];
        for (int i = 0; i < times.length; i++) {
            String[] cells = cells(lines.get(i + 1));
            try {
                times[i] = Double.parseDouble(cells[0]);
                values[i] = Units.toSi(given, Double.parseDouble(cells[column]));
            } catch (NumberFormatException | ArrayIndexOutOfBoundsException e) {
                throw new IllegalArgumentException("Line " + (i + 2) + " of the course '" + name + "' is not a time and a value.");
            }
            if (i > 0 && !(times[i] > times[i - 1])) {
                throw new IllegalArgumentException("The times of the course '" + name + "' do not rise at line " + (i + 2) + ".");
            }
        }
        return new Series(signal, unit, times, values);
    }

    private static String[] cells(String line) {
        return Arrays.stream(line.split("[,;]", -1)).map(c -> c.strip().replaceAll("^\"|\"$", "")).toArray(String[]::new);
    }
}
