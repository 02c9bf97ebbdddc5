package boldanvil.app.shell;

import boldanvil.app.widget.Theme;
import boldanvil.core.finding.Finding;
import java.nio.file.Path;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;

/** The desktop application. Its only parameter is the folder of the project to open. */
public final class BoldAnvil extends Application {
    private Shell shell;

    @Override
    public void start(Stage stage) {
        Theme.loadFonts();
        shell = new Shell();
        stage.setTitle("Bold Anvil");
        stage.setScene(new Scene(shell, 1280, 800));
        stage.setMinWidth(1000);
        stage.setMinHeight(640);
        var parameters = getParameters().getUnnamed();
        if (!parameters.isEmpty()) {
            shell.open(Path.of(parameters.getFirst()));
        }
        shell.workspace().onChange(() -> stage.setTitle(shell.workspace().project().name()
                + (shell.workspace().isDirty() ? " • " : " ") + "— Bold Anvil"));
        // Whatever slips through is said in the window, not on a console nobody reads.
        Thread.setDefaultUncaughtExceptionHandler((_, e) -> Platform.runLater(() -> shell.showMessage("This failed: " + Finding.reason(e)
                + ". Your edits are kept in the journal. Report it together with the project.")));
        stage.show();
    }

    @Override
    public void stop() {
        shell.close();
    }
}
