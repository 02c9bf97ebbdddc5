package boldanvil.standin;

import boldanvil.core.board.Board;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.build.Builder;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;

/**
 * The stand-in of a board: flash that images are downloaded into at the speed of its link, and a processor that runs what is
 * there. What is downloaded is what runs.
 */
final class Device {
    /** Speed of the download link, bytes per second. */
    static final int LINK_BYTES_PER_SECOND = 400_000;

    private final Board board;
    private byte[] flash = new byte[0];
    private int written;
    private Processor processor;

    Device(Board board) {
        this.board = board;
    }

    Board board() {
        return board;
    }

    String serial() {
        return "SW32-" + String.format("%04d", Math.floorMod(board.name().hashCode(), 10_000));
    }

    /** Erases the flash for an image of a size. */
    void erase(int bytes) {
        if (bytes <= 0 || bytes > board.memory().flashBytes()) {
            throw FindingException.of(board.title(), "The image has " + bytes + " bytes, the flash " + board.memory().flashBytes() + ".",
                    "Take blocks out of the part, or choose a board with more flash.");
        }
        flash = new byte[bytes];
        written = 0;
    }

    /** Writes the next piece; takes as long as the link does. */
    void program(int offset, byte[] piece) {
        if (offset != written || offset + piece.length > flash.length) {
            throw FindingException.of(board.title(), "A piece of the image is out of order.", "Download again.");
        }
        System.arraycopy(piece, 0, flash, offset, piece.length);
        written += piece.length;
        java.util.concurrent.locks.LockSupport.parkNanos(piece.length * 1_000_000_000L / LINK_BYTES_PER_SECOND);
    }

    /** The processor of the program that was started; null before. */
    Processor processor() {
        return processor;
    }

    /** SHA-256 of what the flash holds; empty while it holds no whole image. */
    String digest() {
        return flash.length == 0 || written < flash.length ? "" : Builder.sha256(flash);
    }

    /** Starts the processor on what the flash holds. */
    DeviceInstance start(BoardSetup setup, Arena arena) {
        if (digest().isEmpty()) {
            throw FindingException.of(board.title(), "There is no image on the device.", "Download one first.");
        }
        try {
            Path file = Files.createTempFile("image", ".so");
            try {
                Files.write(file, Arrays.copyOf(flash, flash.length));
                processor = new Processor(setup);
                return new DeviceInstance(file, setup, processor, arena);
            } finally {
                // The loaded library keeps its pages; the file is not needed any more.
                Files.deleteIfExists(file);
            }
        } catch (IOException e) {
            throw FindingException.of(board.title(), "The stand-in cannot write its image: " + e.getMessage() + ".",
                    "Check the space in the folder for temporary files.");
        }
    }
}
