package boldanvil.core.transfer;

import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.Series;
import boldanvil.core.user.WholeFile;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Runs as value change dumps (IEEE 1364-2005, clause 18), for logic analysers and wave viewers. A tap that is never anything but 0 or 1 is
 * a wire, any other a real number; only changes are written, at whole nanoseconds.
 */
public final class RunVcd {
    private static final int FIRST_CODE = '!';
    private static final int CODES = '~' - '!' + 1;

    private RunVcd() {}

    /** Writes a run; what was there before is replaced only when all is written. */
    public static void write(RunData run, Path file) throws IOException {
        WholeFile.write(file, beside -> {
            try (BufferedWriter out = Files.newBufferedWriter(beside)) {
                header(run, out);
                changes(run, out);
            }
        });
    }

    private static void header(RunData run, BufferedWriter out) throws IOException {
        out.write("$timescale 1 ns $end\n");
        for (Series s : run.series()) {
            if (!s.unit().isEmpty()) {
                out.write("$comment " + identifier(s.name()) + " in " + s.unit().replace('$', '_').replaceAll("\\s", "_") + " $end\n");
            }
        }
        List<String> scopes = new ArrayList<>();
        for (int i = 0; i < run.series().size(); i++) {
            String[] words = run.series().get(i).name().split("\\.");
            List<String> wanted = List.of(words).subList(0, words.length - 1);
            int common = 0;
            while (common < Math.min(scopes.size(), wanted.size()) && scopes.get(common).equals(wanted.get(common))) {
                common++;
            }
            while (scopes.size() > common) {
                scopes.removeLast();
                out.write("$upscope $end\n");
            }
            for (String scope : wanted.subList(common, wanted.size())) {
                scopes.add(scope);
                out.write("$scope module " + identifier(scope) + " $end\n");
            }
            out.write("$var " + (isLogic(run.series().get(i)) ? "wire 1 " : "real 64 ") + code(i) + " "
                    + identifier(words[words.length - 1]) + " $end\n");
        }
        for (int i = 0; i < scopes.size(); i++) {
            out.write("$upscope $end\n");
        }
        out.write("$enddefinitions $end\n");
    }

    private static String identifier(String name) {
        return name.replaceAll("[^A-Za-z0-9_$]", "_");
    }

    private static boolean isLogic(Series s) {
        for (double v : s.values()) {
            if (v != 0 && v != 1) {
                return false;
            }
        }
        return true;
    }

    /** A short name of printable characters. */
    private static String code(int number) {
        var code = new StringBuilder();
        for (int n = number; n >= 0; n = n / CODES - 1) {
            code.append((char) (FIRST_CODE + n % CODES));
        }
        return code.toString();
    }

    private static void changes(RunData run, BufferedWriter out) throws IOException {
        int n = run.series().size();
        Unit[] units = run.series().stream().map(s -> Units.orOne(s.unit())).toArray(Unit[]::new);
        boolean[] logic = new boolean[n];
        int[] at = new int[n];
        for (int i = 0; i < n; i++) {
            logic[i] = isLogic(run.series().get(i));
        }
        long written = -1;
        while (true) {
            double next = Double.POSITIVE_INFINITY;
            for (int i = 0; i < n; i++) {
                Series s = run.series().get(i);
                // Samples that change nothing are passed over.
                while (at[i] > 0 && at[i] < s.size() && s.values()[at[i]] == s.values()[at[i] - 1]) {
                    at[i]++;
                }
                if (at[i] < s.size()) {
                    next = Math.min(next, s.times()[at[i]]);
                }
            }
            if (next == Double.POSITIVE_INFINITY) {
                break;
            }
            long nanos = Math.round(next * 1e9);
            if (nanos != written) {
                out.write("#" + nanos + "\n");
                written = nanos;
            }
            for (int i = 0; i < n; i++) {
                Series s = run.series().get(i);
                if (at[i] < s.size() && s.times()[at[i]] == next) {
                    double v = s.values()[at[i]++];
                    out.write(logic[i] ? (v == 0 ? "0" : "1") + code(i) + "\n" : "r" + units[i].fromSi(v) + " " + code(i) + "\n");
                }
            }
        }
        long end = Math.round(run.end() * 1e9);
        if (end != written) {
            out.write("#" + end + "\n");
        }
    }
}
