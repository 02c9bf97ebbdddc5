package boldanvil.benchmarks;

import java.util.Locale;
import javafx.animation.AnimationTimer;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.scene.control.Label;
import javafx.stage.Stage;

/** A window with one label, which prints when it was first painted: what any window of this toolkit costs at least. */
public final class LabelWindow {
    private LabelWindow() {}

    /** The window. */
    public static final class Window extends Application {
        @Override
        public void start(Stage stage) {
            stage.setScene(new Scene(new Label("one label"), 1280, 800));
            stage.show();
            new AnimationTimer() {
                private int pulses;

                @Override
                public void handle(long now) {
                    if (++pulses == 2) {
                        double seconds = ProcessHandle.current().info().startInstant()
                                .map(s -> (System.currentTimeMillis() - s.toEpochMilli()) / 1e3).orElse(Double.NaN);
                        System.out.printf(Locale.ROOT, "first paint %.2f s%n", seconds);
                        stop();
                        Platform.exit();
                    }
                }
            }.start();
        }
    }

    public static void main(String[] args) {
        Application.launch(Window.class, args);
    }
}
