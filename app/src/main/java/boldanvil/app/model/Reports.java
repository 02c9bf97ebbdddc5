package boldanvil.app.model;

import boldanvil.core.evidence.TrialReport;
import boldanvil.core.finding.FindingException;
import boldanvil.core.report.PdfBook;
import boldanvil.core.report.Plot;
import boldanvil.core.report.PlotFile;
import boldanvil.core.report.Table;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.FontWidths;
import boldanvil.core.sheet.SheetFile;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetSource;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;

/** Writes tables as PDF in the fonts of the application. */
public final class Reports {
    private Reports() {}

    public static void pdf(Table table, Path file) {
        PdfBook.write(table, file, fonts());
    }

    /** The fonts of the application. */
    public static PdfBook.Fonts fonts() {
        return new PdfBook.Fonts(font("IBMPlexSans_400Regular.ttf"), font("IBMPlexSans_600SemiBold.ttf"),
                font("IBMPlexMono_400Regular.ttf"));
    }

    /** Writes one sheet as SVG, PDF or PNG, as the ending of the file's name says. */
    public static void sheet(String title, SheetScene scene, Path file) {
        String name = file.toString().toLowerCase(Locale.ROOT);
        whole(file, beside -> {
            if (name.endsWith(".pdf")) {
                try (var book = new PdfBook(title, fonts())) {
                    SheetFile.pdf(book, title, scene);
                    book.save(beside);
                }
            } else if (name.endsWith(".png")) {
                ImagePen.png(scene, beside);
            } else {
                Files.writeString(beside, SheetFile.svg(scene, new FontWidths(fonts()), false));
            }
        });
    }

    /** Writes everything of a project as one PDF: sheets, variables, patch, clock, rigs, sizes, findings. */
    public static void project(Review review, Path file) {
        whole(file, beside -> {
            try (var book = new PdfBook(review.project().name(), fonts())) {
                for (var e : SheetFile.all(SheetSource.of(review)).entrySet()) {
                    SheetFile.pdf(book, e.getKey(), e.getValue());
                }
                for (Table t : ProjectTables.of(review)) {
                    book.add(t);
                }
                book.save(beside);
            }
        });
    }

    /** Writes what came of trials as one PDF. */
    public static void trials(TrialReport report, Path file) {
        whole(file, beside -> {
            try (var book = new PdfBook(report.title(), fonts())) {
                report.add(book);
                book.save(beside);
            }
        });
    }

    /** Writes a file whole or not at all. */
    public static void whole(Path file, WholeFile.Content content) {
        try {
            WholeFile.write(file, content);
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The file cannot be written: " + e.getMessage() + ".",
                    "Choose a folder that exists and can be written to.");
        }
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
