package boldanvil.core.build;

/**
 * The register block of the stand-ins, as {@code board_io_standin.c} declares it: offsets in bytes, little endian.
 */
public final class Registers {
    public static final int UNITS = 4;
    public static final int ADC_CHANNELS = 16;
    public static final int PWM_CHANNELS = 4;
    public static final int ADC = 0;
    public static final int PWM_COMPARE = ADC + 2 * UNITS * ADC_CHANNELS;
    public static final int PWM_PERIOD = PWM_COMPARE + 2 * UNITS * PWM_CHANNELS;
    public static final int PWM_PRESCALER = PWM_PERIOD + 2 * UNITS;
    public static final int ENCODER = PWM_PRESCALER + 2 * UNITS;
    public static final int DIGITAL_IN = ENCODER + 2 * UNITS;
    public static final int DIGITAL_OUT = DIGITAL_IN + 64;
    public static final int WATCHDOG = DIGITAL_OUT + 64;
    public static final int SIZE = WATCHDOG + 4;

    private Registers() {}

    /** Register offset of an analog channel such as {@code ADC1.3}. */
    public static int adc(String channel) {
        return ADC + 2 * (unit(channel) * ADC_CHANNELS + index(channel));
    }

    /** Register offset of the compare value of a PWM channel such as {@code T1.A}. */
    public static int pwmCompare(String channel) {
        return PWM_COMPARE + 2 * (unit(channel) * PWM_CHANNELS + index(channel));
    }

    /** Register offset of an encoder counter such as {@code Q1}. */
    public static int encoder(String channel) {
        return ENCODER + 2 * unit(channel);
    }

    /** Number of a unit, from 0: 0 for {@code ADC1.3}. */
    public static int unit(String channel) {
        int dot = channel.indexOf('.');
        String unit = dot < 0 ? channel : channel.substring(0, dot);
        return Integer.parseInt(unit.replaceAll("\\D", "")) - 1;
    }

    /** Number of a channel within its unit, from 0: 3 for {@code ADC1.3}, 0 for {@code T1.A}. */
    public static int index(String channel) {
        String last = channel.substring(channel.indexOf('.') + 1);
        return Character.isDigit(last.charAt(0)) ? Integer.parseInt(last) : last.charAt(0) - 'A';
    }
}
