package boldanvil.app.model;

import boldanvil.core.linear.Balanced;
import boldanvil.core.linear.Polynomials;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.Zeros;
import boldanvil.core.loop.OpenLoop;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/** An open loop as text, to be read and copied. */
public final class LoopTexts {
    private static final int DIGITS = 7;

    /** Forms of a linear system. */
    public enum Form {
        ZEROS("Zeros, poles and gain"), TRANSFER("Transfer function in z"), STATES("State space");

        private final String label;

        Form(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    private LoopTexts() {}

    /**
     * The loop from what is added to the wire to what comes back, with the other sign.
     *
     * @param states how many of the most important ones are kept; 0 for all
     */
    public static String of(OpenLoop loop, Form form, int states) {
        StateSpace s = loop.single();
        List<String> names = loop.states();
        if (states > 0 && states < s.states()) {
            s = Balanced.within(s, Balanced.MANY).reduced(states);
            names = List.of();
        }
        String head = "in z, " + Figures.seconds(s.period()) + (loop.samples() > 1 ? ", mean of " + loop.samples() + " samples" : "")
                + "\n";
        return head + switch (form) {
            case ZEROS -> {
                Zeros z = Zeros.of(s);
                yield "gain   " + Figures.text(z.gain(), DIGITS) + "\nzeros  " + roots(z.zeros()) + "\npoles  " + roots(s.poles());
            }
            case TRANSFER -> {
                double[][] both = Polynomials.of(s);
                yield "numerator    " + list(both[0]) + "\ndenominator  " + list(both[1]);
            }
            case STATES -> "A = " + matrix(s.a()) + "\nB = " + matrix(s.b()) + "\nC = " + matrix(s.c()) + "\nD = " + matrix(s.d())
                    + (names.isEmpty() ? "" : "\nstates  " + String.join(", ", names));
        };
    }

    private static String roots(Complex[] all) {
        List<String> texts = new ArrayList<>();
        for (Complex c : all) {
            String real = Figures.text(c.getRealPart(), DIGITS);
            texts.add(c.getImaginaryPart() == 0 ? real : real + (c.getImaginaryPart() < 0 ? " − " : " + ") + Figures.text(Math.abs(
                    c.getImaginaryPart()), DIGITS) + "j");
        }
        return texts.isEmpty() ? "none" : String.join("\n       ", texts);
    }

    private static String list(double[] all) {
        return Arrays.stream(all).mapToObj(v -> Figures.text(v, DIGITS)).collect(Collectors.joining(", ", "[", "]"));
    }

    private static String matrix(SimpleMatrix m) {
        return Arrays.stream(m.toArray2()).map(LoopTexts::list).collect(Collectors.joining(", ", "[", "]"));
    }
}
