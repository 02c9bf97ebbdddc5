package boldanvil.app.shell;

import boldanvil.app.widget.Theme;
import boldanvil.core.finding.Finding;
import boldanvil.core.user.Log;
import java.nio.file.Path;
import java.util.Locale;
import javafx.animation.AnimationTimer;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;

/** The desktop application. Its only parameter is the folder of the project to open. */
public final class BoldAnvil extends Application {
    /** System property: print when the window was first painted, and end; for measurements and for the ahead-of-time cache. */
    public static final String FIRST_PAINT = "boldanvil.firstpaint";

    private Shell shell;

    @Override
    public void start(Stage stage) {
        Theme.loadFonts();
        shell = new Shell();
        stage.setTitle("Bold Anvil");
        stage.setScene(new Scene(shell, 1280, 800));
        stage.setMinWidth(1000);
        stage.setMinHeight(640);
        shell.workspace().onChange(() -> stage.setTitle(shell.workspace().project().name()
                + (shell.workspace().isDirty() ? " • " : " ") + "— Bold Anvil"));
        // Whatever slips through is shown in the window, not on a console nobody reads.
        Thread.setDefaultUncaughtExceptionHandler((_, e) -> {
            Log.failed(BoldAnvil.class, e);
            Platform.runLater(() -> shell.showMessage("This failed: " + Finding.reason(e)
                    + ". Your edits are kept in the journal. Report it together with the diagnostics (command 'Copy diagnostics')."));
        });
        shell.rememberSize(stage);
        stage.setOnCloseRequest(e -> {
            e.consume();
            shell.quit();
        });
        stage.show();
        var parameters = getParameters().getUnnamed();
        if (!parameters.isEmpty()) {
            shell.openLater(Path.of(parameters.getFirst()));
        }
        if (System.getProperty(FIRST_PAINT) != null) {
            reportFirstPaint();
        }
    }

    /**
     * Pictures are painted between two pulses: at the second one, the first picture is done; then the project is waited for, and opened
     * once more.
     */
    private void reportFirstPaint() {
        new AnimationTimer() {
            private int pulses;
            private double first;
            private double ready = Double.NaN;

            @Override
            public void handle(long now) {
                if (++pulses == 2) {
                    first = sinceStart();
                }
                if (pulses < 3) {
                    return;
                }
                boolean none = getParameters().getUnnamed().isEmpty();
                if (!none && (shell.workspace().folder().isEmpty() || shell.workspace().isReviewing())) {
                    return;
                }
                if (!none && Double.isNaN(ready)) {
                    ready = sinceStart();
                    shell.open(Path.of(getParameters().getUnnamed().getFirst()));
                    return;
                }
                stop();
                if (none) {
                    System.out.printf(Locale.ROOT, "first paint %.2f s, start page %.2f s%n", first, sinceStart());
                } else {
                    System.out.printf(Locale.ROOT, "first paint %.2f s, project ready %.2f s, again in %.2f s%n", first, ready,
                            sinceStart() - ready);
                }
                Platform.exit();
            }
        }.start();
    }

    private static double sinceStart() {
        return ProcessHandle.current().info().startInstant().map(s -> (System.currentTimeMillis() - s.toEpochMilli()) / 1e3)
                .orElse(Double.NaN);
    }

    @Override
    public void stop() {
        shell.close();
    }
}
