package boldanvil.core.peripheral;

import java.util.Arrays;

/** The state of something as numbers, to be read in the order in which it was written. */
public final class Kept {
    private double[] numbers;
    private int at;

    /** Nothing yet. */
    Kept() {
        numbers = new double[16];
    }

    /** What {@link #toArray} gave. */
    Kept(double[] numbers) {
        this.numbers = numbers;
    }

    double[] toArray() {
        return Arrays.copyOf(numbers, at);
    }

    public Kept put(double v) {
        if (at == numbers.length) {
            numbers = Arrays.copyOf(numbers, 2 * at);
        }
        numbers[at++] = v;
        return this;
    }

    /** @param array null for none */
    public Kept put(double[] array) {
        put(array == null ? -1 : array.length);
        for (int i = 0; array != null && i < array.length; i++) {
            put(array[i]);
        }
        return this;
    }

    /** @param array null for none */
    public Kept put(byte[] array) {
        put(array == null ? -1 : array.length);
        for (int i = 0; array != null && i < array.length; i++) {
            put(array[i]);
        }
        return this;
    }

    public double number() {
        return numbers[at++];
    }

    /** An array of numbers; null where none was written. */
    public double[] array() {
        int length = (int) number();
        if (length < 0) {
            return null;
        }
        double[] array = Arrays.copyOfRange(numbers, at, at + length);
        at += length;
        return array;
    }

    /** An array of bytes; null where none was written. */
    public byte[] bytes() {
        double[] array = array();
        if (array == null) {
            return null;
        }
        byte[] bytes = new byte[array.length];
        for (int i = 0; i < bytes.length; i++) {
            bytes[i] = (byte) array[i];
        }
        return bytes;
    }
}
