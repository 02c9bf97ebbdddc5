package boldanvil.core.identify;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.FindingException;
import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Random;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Transfer functions from points of a response. */
class FrequencyFitTest {
    @TempDir
    private Path folder;

    private static MeasuredResponse points(StateSpace s, double delay, double noise) {
        double[] omega = Frequencies.between(0.1, 1000, 60);
        var response = new Response(s);
        var random = new Random(4);
        Complex[] g = Arrays.stream(omega).mapToObj(w -> response.at(w).multiply(new Complex(0, -w * delay).exp()).multiply(1 + noise
                * random.nextGaussian())).toArray(Complex[]::new);
        double[] coherence = new double[omega.length];
        Arrays.fill(coherence, 1);
        return new MeasuredResponse(omega, g, coherence);
    }

    @Test
    void theTransferFunctionBehindThePointsComesBack() {
        // Two decades between the poles, a resonance and a zero.
        var truth = StateSpace.zerosPolesGain(new Complex[] {new Complex(-20)}, new Complex[] {new Complex(-1), new Complex(-30, 200),
            new Complex(-30, -200)}, 5e4, 0);
        var fit = FrequencyFit.of(points(truth, 0.002, 0), 1, 3, 0.002);
        assertThat(fit.error()).isLessThan(1e-9);
        Complex[] poles = fit.system().poles();
        Arrays.sort(poles, Comparator.comparingDouble(Complex::norm));
        assertThat(poles[0].getRealPart()).isCloseTo(-1, within(1e-6));
        assertThat(poles[1].norm()).isCloseTo(Math.hypot(30, 200), within(1e-4));
        assertThat(FrequencyFit.of(points(truth, 0.002, 0.02), 1, 3, 0.002).error()).isLessThan(0.05);
        assertThatThrownBy(() -> FrequencyFit.of(points(truth, 0, 0), 4, 3, 0)).isInstanceOf(NoSolutionException.class);
    }

    @Test
    void pointsAreReadFromAFileInHertzAndDecibels() throws IOException {
        Path file = folder.resolve("points.csv");
        Files.writeString(file, "Hz; note; dB; degrees\n10; b; -20; -90\n1; a; 0; -45\n\n");
        var m = FrequencyPoints.read(file);
        assertThat(m.omega()[0]).isCloseTo(2 * Math.PI, within(1e-12));
        assertThat(m.response()[1].norm()).isCloseTo(0.1, within(1e-12));
        assertThat(Math.toDegrees(m.response()[0].getArgument())).isCloseTo(-45, within(1e-9));
        assertThat(m.coherence()).containsOnly(1);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "a,b,c\n1,2,3\n", "rad/s,dB,degrees\n", "rad/s,dB,degrees\n1,2\n", "rad/s,dB,degrees\n-1,2,3\n",
        "rad/s,dB,degrees\nx,2,3\n"})
    void badFilesAreFindings(String text) throws IOException {
        Path file = folder.resolve("bad.csv");
        Files.writeString(file, text);
        assertThatThrownBy(() -> FrequencyPoints.read(file)).isInstanceOf(FindingException.class);
    }

    @Test
    void aFileThatIsNotThereIsAFinding() {
        assertThatThrownBy(() -> FrequencyPoints.read(folder.resolve("none.csv"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("cannot be read");
    }
}
