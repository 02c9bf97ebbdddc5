package boldanvil.core.identify;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;
import org.hipparchus.complex.Complex;

/** Frequency responses as CSV: a column of frequencies in rad/s or Hz, one in dB, one in degrees, and perhaps the coherence. */
public final class FrequencyPoints {
    private static final int MOST = 100_000;
    private static final long LARGEST = 16L << 20;

    private FrequencyPoints() {}

    /**
     * Reads a file. The first line names the columns: {@code rad/s} or {@code Hz}, {@code dB}, {@code degrees} and {@code coherence}, in
     * any order, with other columns between.
     *
     * @throws FindingException with the line that is wrong
     */
    public static MeasuredResponse read(Path file) {
        List<String> lines;
        try {
            if (!Files.isRegularFile(file)) {
                throw FindingException.of(file.toString(), "The file cannot be read: there is none of that name.", "Check its path.");
            }
            if (Files.size(file) > LARGEST) {
                throw FindingException.of(file.toString(), "The file has more than " + (LARGEST >> 20) + " MiB.", "Choose a smaller one.");
            }
            lines = Files.readAllLines(file, StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The file cannot be read: " + e.getMessage() + ".",
                    "Check its path and its encoding.");
        }
        List<String> names = lines.isEmpty() ? List.of() : Arrays.stream(lines.getFirst().split("[,;\t]")).map(n -> n.strip()
                .toLowerCase(Locale.ROOT)).toList();
        int radians = column(names, "rad/s", "omega");
        int hertz = column(names, "hz", "hertz");
        int decibels = column(names, "db", "decibels");
        int degrees = column(names, "degrees", "°", "deg");
        int coherence = column(names, "coherence");
        if (radians < 0 && hertz < 0 || decibels < 0 || degrees < 0) {
            throw FindingException.of(file.toString(), "The first line does not name the columns of a frequency response.",
                    "Name one rad/s or Hz, one dB and one degrees, separated by commas.");
        }
        var sorted = new TreeMap<Double, double[]>();
        for (int i = 1; i < lines.size() && i <= MOST; i++) {
            if (!lines.get(i).isBlank()) {
                double[] v = numbers(file, lines.get(i), i + 1, names.size());
                double omega = radians >= 0 ? v[radians] : 2 * Math.PI * v[hertz];
                if (!(omega > 0)) {
                    throw wrong(file, i + 1, "The frequency is not above 0.");
                }
                sorted.put(omega, new double[] {v[decibels], v[degrees], coherence < 0 ? 1 : v[coherence]});
            }
        }
        if (sorted.isEmpty()) {
            throw FindingException.of(file.toString(), "The file has no points.", "Write a line for each frequency.");
        }
        List<double[]> rows = new ArrayList<>(sorted.values());
        return new MeasuredResponse(sorted.keySet().stream().mapToDouble(Double::doubleValue).toArray(), rows.stream()
                .map(r -> new Complex(0,
                Math.toRadians(r[1])).exp().multiply(Math.pow(10, r[0] / 20))).toArray(Complex[]::new), rows.stream().mapToDouble(r -> r[2])
                .toArray());
    }

    private static int column(List<String> names, String... accepted) {
        for (int i = 0; i < names.size(); i++) {
            for (String a : accepted) {
                if (names.get(i).equals(a)) {
                    return i;
                }
            }
        }
        return -1;
    }

    private static double[] numbers(Path file, String line, int number, int columns) {
        String[] texts = line.split("[,;\t]");
        if (texts.length < columns) {
            throw wrong(file, number, "The line has " + texts.length + " columns instead of " + columns + ".");
        }
        double[] v = new double[columns];
        for (int i = 0; i < columns; i++) {
            try {
                v[i] = texts[i].isBlank() ? Double.NaN : Double.parseDouble(texts[i].strip());
            } catch (NumberFormatException e) {
                v[i] = Double.NaN;
            }
        }
        return v;
    }

    private static FindingException wrong(Path file, int line, String cause) {
        return FindingException.of(file + ", line " + line, cause, "Correct the line, or remove it.");
    }
}
