package boldanvil.core;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;
import static org.assertj.core.api.Assertions.fail;

import boldanvil.core.testing.Doors;
import boldanvil.core.testing.Doors.Door;
import boldanvil.core.testing.Mutator;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** A few damaged inputs for every door; the fuzz benchmark opens each far more often. */
class HostileInputsTest {
    private static final int INPUTS = 1_500;

    @TempDir
    private Path folder;

    @Test
    @Timeout(240)
    void damagedInputsAreReadOrRefusedInWords() throws Exception {
        Path inside = Files.createDirectory(folder.resolve("inside"));
        var mutator = new Mutator(20261128);
        List<Door> doors = Doors.all(inside, Path.of("../demo"));
        int total = doors.stream().mapToInt(Door::weight).sum();
        for (Door d : doors) {
            for (int i = 0; i <= INPUTS * d.weight() / total; i++) {
                byte[] input = mutator.damaged(d.seeds());
                Throwable thrown = catchThrowable(() -> d.refuses(input, inside));
                if (thrown != null) {
                    fail(d.name() + ", " + thrown.getClass().getSimpleName() + " at " + List.of(thrown.getStackTrace())
                            .subList(0, Math.min(8, thrown.getStackTrace().length))
                            + ": " + new String(input, 0, Math.min(300, input.length), StandardCharsets.UTF_8));
                }
            }
        }
        try (var files = Files.list(folder)) {
            assertThat(files).as("nothing outside is touched").containsExactly(inside);
        }
    }

    @Test
    void wholeInputsAreNotRefused() throws Exception {
        for (Door d : Doors.all(folder, Path.of("../demo"))) {
            if (List.of("project", "board", "text", "frames", "drawing", "run csv", "run hdf5").contains(d.name())) {
                assertThat(d.refuses(d.seeds().getFirst(), folder)).as(d.name()).isFalse();
            }
        }
    }
}
