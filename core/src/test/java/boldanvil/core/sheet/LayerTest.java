package boldanvil.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The labels of the current loop of the demo. */
class LayerTest {
    private static final SheetSource LOCK = SheetSource.of(Review.of(ProjectReader.read(Path.of("../demo/larkmere-lock"))));

    private static String text(Layer layer, String part, String sheet, String path, String block) {
        var ref = new SheetRef(part, sheet);
        Map<String, String> texts = layer.of(LOCK, ref, path);
        String id = LOCK.project().sheet(ref).orElseThrow().blocks().stream().filter(b -> b.name().equals(block)).findFirst().orElseThrow()
                .id();
        return texts.getOrDefault(id, "");
    }

    @Test
    void sampleTimesComeFromTheBlockItsSubsystemOrItsPart() {
        assertThat(text(Layer.SAMPLE_TIMES, "controller", "current-loop", "controller/current loop", "error")).isEqualTo("100 µs");
        assertThat(text(Layer.SAMPLE_TIMES, "controller", "position-loop", "controller/position loop", "Kp position")).isEqualTo("1 ms");
        assertThat(text(Layer.SAMPLE_TIMES, "drive", "paddle", "drive/paddle", "velocity")).isEqualTo("continuous");
        assertThat(text(Layer.SAMPLE_TIMES, "controller", "current-loop", "controller/current loop", "off")).isEmpty();
    }

    @Test
    void typesAndUnitsAreThoseOfTheSignals() {
        assertThat(text(Layer.TYPES, "controller", "current-loop", "controller/current loop", "error")).isEqualTo("float64");
        assertThat(text(Layer.TYPES, "controller", "current-loop", "controller/current loop", "stopped")).isEqualTo("bool");
        assertThat(text(Layer.UNITS, "controller", "current-loop", "controller/current loop", "voltage")).isEqualTo("V");
    }

    @Test
    void aBlockIsComputedAfterWhatItNeedsWithinTheStep() {
        int error = Integer.parseInt(text(Layer.ORDER, "controller", "current-loop", "controller/current loop", "error"));
        int controller = Integer.parseInt(text(Layer.ORDER, "controller", "current-loop", "controller/current loop", "current controller"));
        assertThat(error).isLessThan(controller);
    }

    @Test
    void loadsOfThePartsOfAPartAreItsWhole() {
        var ref = new SheetRef("controller", "main");
        double sum = Layer.LOAD.of(LOCK, ref, "controller").values().stream().mapToDouble(t -> Double.parseDouble(t.replace(" %", "")))
                .sum();
        assertThat(sum).isBetween(90.0, 101.0);
    }
}
