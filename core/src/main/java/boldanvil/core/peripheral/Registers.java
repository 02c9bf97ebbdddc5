package boldanvil.core.peripheral;

/**
 * The register block of the stand-ins, as {@code board_io_standin.c} declares it: words of 32 bits, little endian. Each constant is the
 * number of a register's first word, each method that of one word.
 */
public final class Registers {
    private static final int CONVERTERS = 4;
    private static final int CHANNELS = 16;
    private static final int TIMERS = 8;
    private static final int OUTPUTS = 4;
    private static final int PINS = 128;
    private static final int PORTS = 4;
    private static final int PACKET = 64;
    private static final int BUSES = 4;
    private static final int BUS_DEVICES = 8;
    private static final int CANS = 2;
    /** Messages of one direction a CAN unit can hold. */
    public static final int MAILBOXES = 16;

    private static final int ADC = 0;
    private static final int ADC_SAMPLING = ADC + CONVERTERS * CHANNELS;
    private static final int ADC_TRIGGER = ADC_SAMPLING + CONVERTERS * CHANNELS;
    public static final int DAC = ADC_TRIGGER + CONVERTERS * CHANNELS;
    public static final int PRESCALER = DAC + 4;
    public static final int PERIOD = PRESCALER + TIMERS;
    public static final int CENTRE = PERIOD + TIMERS;
    public static final int PHASE = CENTRE + TIMERS;
    public static final int DEAD_PRESCALER = PHASE + TIMERS;
    public static final int DEAD = DEAD_PRESCALER + TIMERS;
    public static final int TRIP = DEAD + TIMERS;
    public static final int TRIPPED = TRIP + TIMERS;
    public static final int REST = TRIPPED + TIMERS;
    private static final int COMPARE = REST + TIMERS;
    public static final int ENCODER = COMPARE + TIMERS * OUTPUTS;
    public static final int ENCODER_FILTER = ENCODER + TIMERS;
    public static final int INDEX_FOUND = ENCODER_FILTER + TIMERS;
    public static final int INDEX_AT = INDEX_FOUND + TIMERS;
    public static final int CAPTURE_PRESCALER = INDEX_AT + TIMERS;
    public static final int CAPTURE_PERIOD = CAPTURE_PRESCALER + TIMERS;
    public static final int CAPTURE_HIGH = CAPTURE_PERIOD + TIMERS;
    public static final int DELAY = CAPTURE_HIGH + TIMERS;
    public static final int COUNTER = DELAY + TIMERS;
    public static final int PULL = COUNTER + TIMERS;
    public static final int LEVEL_IN = PULL + PINS;
    public static final int LEVEL_OUT = LEVEL_IN + PINS;
    private static final int EDGE_CHOICE = LEVEL_OUT + PINS;
    public static final int EDGE = EDGE_CHOICE + PINS;
    public static final int SERIAL_DIVISOR = EDGE + PINS;
    private static final int SERIAL_OUT = SERIAL_DIVISOR + PORTS;
    private static final int SERIAL_IN = SERIAL_OUT + PORTS * PACKET;
    public static final int SERIAL_FRESH = SERIAL_IN + PORTS * PACKET;
    private static final int BUS_ADDRESS = SERIAL_FRESH + PORTS;
    private static final int BUS_NUMBER = BUS_ADDRESS + BUSES * BUS_DEVICES;
    private static final int BUS_BYTES = BUS_NUMBER + BUSES * BUS_DEVICES;
    private static final int CAN_TIMING = BUS_BYTES + BUSES * BUS_DEVICES * 4;
    private static final int CAN_OUT = CAN_TIMING + CANS;
    private static final int CAN_IN = CAN_OUT + CANS * MAILBOXES * 8;
    private static final int CAN_FRESH = CAN_IN + CANS * MAILBOXES * 8;
    public static final int CLOCK = CAN_FRESH + CANS * MAILBOXES;
    public static final int CLOCK_DIVIDER = CLOCK + 4;
    public static final int LOAD = CLOCK_DIVIDER + 8;
    public static final int OVERRUNS = LOAD + 1;
    public static final int STACK_FREE = OVERRUNS + 1;
    public static final int RESET_CAUSE = STACK_FREE + 1;
    public static final int WATCHDOG_PRESCALER = RESET_CAUSE + 1;
    public static final int WATCHDOG_RELOAD = WATCHDOG_PRESCALER + 1;
    /** How often the watchdog was informed that a tick was completed. */
    public static final int WATCHDOG = WATCHDOG_RELOAD + 1;
    /** Words of the whole block. */
    public static final int WORDS = WATCHDOG + 1;

    private Registers() {}

    /** The count of an analog input. */
    public static int adc(int converter, int channel) {
        return ADC + converter * CHANNELS + channel;
    }

    /** A byte of the packet a serial port sends. */
    public static int serialOut(int port, int index) {
        return SERIAL_OUT + port * PACKET + index;
    }

    /** A byte of the packet a serial port has received. */
    public static int serialIn(int port, int index) {
        return SERIAL_IN + port * PACKET + index;
    }

    /** Address of a register on a bus, plus one. */
    public static int busAddress(int bus, int device) {
        return BUS_ADDRESS + bus * BUS_DEVICES + device;
    }

    public static int busNumber(int bus, int device) {
        return BUS_NUMBER + bus * BUS_DEVICES + device;
    }

    public static int busByte(int bus, int device, int index) {
        return BUS_BYTES + (bus * BUS_DEVICES + device) * 4 + index;
    }

    public static int canOut(int unit, int mailbox, int index) {
        return CAN_OUT + (unit * MAILBOXES + mailbox) * 8 + index;
    }

    public static int canIn(int unit, int mailbox, int index) {
        return CAN_IN + (unit * MAILBOXES + mailbox) * 8 + index;
    }

    public static int canFresh(int unit, int mailbox) {
        return CAN_FRESH + unit * MAILBOXES + mailbox;
    }

    /** The compare count of a PWM output. */
    public static int compare(int timer, int channel) {
        return COMPARE + timer * OUTPUTS + channel;
    }
}
