package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;

/** Blocks that stand for peripherals. Their outer side, {@code pin}, is the wire on the system sheet. */
final class Terminals {
    static final BlockType ANALOG_IN = BlockType.named("analog in", "Analog in", Family.TERMINAL)
            .help("y = (v − offset) / sensitivity, v being the voltage at the pin. On a device the converter makes counts of "
                    + "v; see the patch sheet for the resolution that follows.")
            .with(real("offset", "0 V", "V", "Voltage at y = 0.").offered(),
                    real("sensitivity", "1", "V per unit", "Change of voltage for each unit of y.").offered(),
                    text("unit", "V", "Unit of y."))
            .face(Face.NONE.out("y")).says("(v − {offset}) / {sensitivity}").real().terminal(TerminalKind.ANALOG_IN)
            .does(e -> {
                if (e.value("sensitivity") == 0) {
                    e.problem("The sensitivity is 0.", "Enter how many volts one unit makes.");
                }
                var t = e.typeOf("y");
                var above = e.in("pin").minus(e.param("offset", t));
                e.output("y", e.param("sensitivity", t) instanceof Expr.Literal s ? above.times(1 / s.value()) : above.over(e.param("sensitivity", t)));
            });

    static final BlockType PWM_OUT = BlockType.named("pwm out", "PWM out", Family.TERMINAL)
            .help("Puts out the duty cycle u, 0 to 1, held between least and greatest. Averaged over the period: the wire "
                    + "carries the duty cycle.")
            .with(real("frequency", "20 kHz", "Hz", "Switching frequency wanted.").atLeast(1),
                    real("least", "0", "", "Least duty cycle.").atLeast(0).atMost(1),
                    real("greatest", "1", "", "Greatest duty cycle.").atLeast(0).atMost(1),
                    choice("alignment", "Where the pulse lies in the period.", "edge", "centre"))
            .face(Face.NONE.in("u", Accept.REAL)).says("{frequency}, {alignment}").terminal(TerminalKind.PWM_OUT)
            .does(e -> e.output("pin", e.in("u").clamp(e.param("least", e.real()), e.param("greatest", e.real()))));

    static final BlockType ENCODER_IN = BlockType.named("encoder in", "Encoder in", Family.TERMINAL)
            .help("y = shaft angle in radians. On a device: counts of an incremental encoder with this many lines, counted "
                    + "fourfold, times 2π / (4 · lines).")
            .with(real("lines", "512", "", "Lines per turn.").atLeast(1).atMost(65536))
            .face(Face.NONE.out("y")).says("{lines}, fourfold").real().terminal(TerminalKind.ENCODER_IN)
            .does(e -> e.output("y", e.in("pin")));

    static final BlockType DIGITAL_IN = BlockType.named("digital in", "Digital in", Family.TERMINAL)
            .help("y = level at the pin, or its opposite.")
            .with(choice("active", "Level that means true.", "high", "low"))
            .face(Face.NONE.out("y")).says("active {active}").type(Type.BOOL).terminal(TerminalKind.DIGITAL_IN)
            .does(e -> e.output("y", e.text("active").equals("high") ? e.in("pin") : e.in("pin").not()));

    static final BlockType DIGITAL_OUT = BlockType.named("digital out", "Digital out", Family.TERMINAL)
            .help("Level at the pin = u, or its opposite.")
            .with(choice("active", "Level that means true.", "high", "low"))
            .face(Face.NONE.in("u", Accept.LOGIC)).says("active {active}").terminal(TerminalKind.DIGITAL_OUT)
            .does(e -> e.output("pin", e.text("active").equals("high") ? e.in("u") : e.in("u").not()));

    static final List<BlockType> TYPES = List.of(ANALOG_IN, PWM_OUT, ENCODER_IN, DIGITAL_IN, DIGITAL_OUT);

    private Terminals() {}
}
