package boldanvil.app.model;

import boldanvil.core.report.Plot;
import boldanvil.core.report.PlotFile;
import boldanvil.core.report.Table;
import boldanvil.core.report.TablePdf;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Path;

/** Writes tables as PDF in the fonts of the application. */
public final class Reports {
    private Reports() {}

    public static void pdf(Table table, Path file) {
        TablePdf.write(table, file, font("IBMPlexSans_400Regular.ttf"), font("IBMPlexSans_600SemiBold.ttf"));
    }

    /** Writes a chart as SVG or PDF, as the ending of the file's name says. */
    public static void plot(Plot plot, Path file) {
        if (file.toString().endsWith(".pdf")) {
            PlotFile.pdf(plot, file, font("IBMPlexSans_400Regular.ttf"));
        } else {
            PlotFile.svg(plot, file);
        }
    }

    private static byte[] font(String name) {
        try (InputStream in = Reports.class.getResourceAsStream("/boldanvil/app/fonts/" + name)) {
            return in.readAllBytes();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
