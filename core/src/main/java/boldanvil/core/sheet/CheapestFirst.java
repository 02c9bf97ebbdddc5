package boldanvil.core.sheet;

import java.util.Arrays;

/** A binary heap of states by their cost, without an object for each. */
final class CheapestFirst {
    /** Cost in the upper half, state in the lower one. */
    private long[] heap = new long[1024];
    private int size;

    void clear() {
        size = 0;
    }

    boolean isEmpty() {
        return size == 0;
    }

    void add(int cost, int state) {
        if (size == heap.length) {
            heap = Arrays.copyOf(heap, 2 * size);
        }
        long entry = (long) cost << 32 | state;
        int at = size++;
        while (at > 0 && heap[(at - 1) / 2] > entry) {
            heap[at] = heap[(at - 1) / 2];
            at = (at - 1) / 2;
        }
        heap[at] = entry;
    }

    /** Takes the state of least cost. */
    int remove() {
        long first = heap[0];
        long last = heap[--size];
        int at = 0;
        while (2 * at + 1 < size) {
            int child = 2 * at + 1;
            if (child + 1 < size && heap[child + 1] < heap[child]) {
                child++;
            }
            if (heap[child] >= last) {
                break;
            }
            heap[at] = heap[child];
            at = child;
        }
        heap[at] = last;
        return (int) first;
    }
}
