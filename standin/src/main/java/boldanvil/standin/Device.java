package boldanvil.standin;

import boldanvil.core.board.Board;
import boldanvil.core.build.Builder;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.finding.FindingException;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserKey;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.concurrent.locks.LockSupport;

/**
 * The stand-in of a board: flash that images are downloaded into at the speed of its link, and a processor that runs what is
 * there. What is downloaded is what runs. Flash keeps what it holds in a file, as flash does without power.
 */
final class Device {
    /** Version of the boot loader that stand-ins play. */
    static final String FIRMWARE = "1.1";
    /** Speed of the download link, bytes per second. */
    static final int LINK_BYTES_PER_SECOND = 400_000;
    private static final int DIGEST_CHARACTERS = 64;

    private final Board board;
    private final Path kept;
    private byte[] flash = new byte[0];
    private int written;
    private String build = "";
    private Processor processor;
    private volatile DeviceInstance running;
    private volatile DeviceFault fault = DeviceFault.NONE;

    /** A device with empty flash that forgets. */
    Device(Board board) {
        this(board, null);
    }

    /** @param kept the file that holds the flash; null for none */
    Device(Board board, Path kept) {
        this.board = board;
        this.kept = kept;
        if (kept != null && Files.isRegularFile(kept, LinkOption.NOFOLLOW_LINKS)) {
            try {
                byte[] all = Files.size(kept) > board.memory().flashBytes() + 2L * DIGEST_CHARACTERS ? new byte[0]
                        : Files.readAllBytes(kept);
                // Only what this user's stand-ins wrote is taken for flash; a file that came with a project is not.
                byte[] tagged = all.length > 2 * DIGEST_CHARACTERS ? Arrays.copyOfRange(all, DIGEST_CHARACTERS, all.length) : new byte[0];
                if (tagged.length > 0 && UserKey.get().accepts(new String(all, 0, DIGEST_CHARACTERS, StandardCharsets.US_ASCII), "flash",
                        tagged)) {
                    build = new String(tagged, 0, DIGEST_CHARACTERS, StandardCharsets.US_ASCII).strip();
                    flash = Arrays.copyOfRange(tagged, DIGEST_CHARACTERS, tagged.length);
                    written = flash.length;
                }
            } catch (IOException e) {
                Log.ignored(Device.class, e, "The flash cannot be read; it counts as empty.");
            }
        }
    }

    Board board() {
        return board;
    }

    String serial() {
        return serial(board.name());
    }

    /** The serial number of a stand-in with a name. */
    static String serial(String name) {
        return "BA-" + String.format("%04d", Math.floorMod(name.hashCode(), 10_000));
    }

    /** What it says of itself: board, serial number, firmware, hash of the sources of its image. */
    String identity() {
        return fault == DeviceFault.WRONG_IDENTITY ? "stranger;BA-0000;" + FIRMWARE + ";"
                : board.name() + ";" + serial() + ";" + FIRMWARE + ";" + (isWhole() ? build + ";" + digest() : "");
    }

    DeviceFault fault() {
        return fault;
    }

    /** Has it play a fault from now on. */
    void fault(DeviceFault next) {
        fault = next;
    }

    /** Erases the flash for an image of a size. */
    void erase(int bytes) {
        if (bytes <= 0 || bytes > board.memory().flashBytes()) {
            throw FindingException.of(board.title(), "The image has " + bytes + " bytes, the flash " + board.memory().flashBytes() + ".",
                    "Remove blocks from the part, or choose a board with more flash.");
        }
        flash = new byte[bytes];
        written = 0;
        build = "";
        forget();
    }

    private void forget() {
        if (kept != null) {
            try {
                Files.deleteIfExists(kept);
            } catch (IOException e) {
                Log.ignored(Device.class, e, "The flash file cannot be removed; it will be overwritten.");
            }
        }
    }

    /** Writes the next piece; takes as long as the link does. */
    void program(int offset, byte[] piece) {
        if (offset != written || offset + piece.length > flash.length) {
            throw FindingException.of(board.title(), "A part of the image arrived out of order.", "Download again.");
        }
        System.arraycopy(piece, 0, flash, offset, piece.length);
        if (fault == DeviceFault.VERIFY && offset == 0) {
            flash[piece.length / 2] ^= 4;
        }
        written += piece.length;
        LockSupport.parkNanos(piece.length * 1_000_000_000L / LINK_BYTES_PER_SECOND);
    }

    boolean isHalfWritten() {
        return written * 2 > flash.length;
    }

    private boolean isWhole() {
        return flash.length > 0 && written == flash.length;
    }

    byte[] flash() {
        return flash;
    }

    /** The supply breaks down: what runs stops, half an image is none. */
    void brownOut() {
        stop();
        flash = new byte[0];
        written = 0;
        build = "";
    }

    /** Notes which sources the image was made from, and keeps the flash. */
    void note(String sources) {
        build = sources;
        if (kept != null && isWhole()) {
            try {
                Files.createDirectories(kept.getParent());
                byte[] all = Arrays.copyOf(String.format("%-" + DIGEST_CHARACTERS + "s", build).getBytes(StandardCharsets.US_ASCII),
                        DIGEST_CHARACTERS + flash.length);
                System.arraycopy(flash, 0, all, DIGEST_CHARACTERS, flash.length);
                byte[] tag = UserKey.get().tag("flash", all).getBytes(StandardCharsets.US_ASCII);
                byte[] whole = Arrays.copyOf(tag, tag.length + all.length);
                System.arraycopy(all, 0, whole, tag.length, all.length);
                WholeFile.write(kept, beside -> Files.write(beside, whole));
            } catch (IOException e) {
                Log.ignored(Device.class, e, "The flash cannot be stored; the image is downloaded again next time.");
            }
        }
    }

    /** Hash of the sources of the image it holds; empty for none. */
    String build() {
        return isWhole() ? build : "";
    }

    /** The processor of the program that was started; null before. */
    Processor processor() {
        return processor;
    }

    /** Ends what runs; outputs go to their safe state. */
    void stop() {
        DeviceInstance r = running;
        if (r != null) {
            r.halt();
        }
    }

    /** Restarts the program, also after it was stopped; between two steps only. */
    void restart() {
        DeviceInstance r = running;
        if (r == null) {
            throw FindingException.of(board.title(), "The device is not running.", "Start the rig first.");
        }
        r.reset();
    }

    /** Whether a program was started and has not been stopped. */
    boolean isRunning() {
        DeviceInstance r = running;
        return r != null && !r.isHalted();
    }

    /** SHA-256 of what the flash holds; empty while it holds no whole image. */
    String digest() {
        return isWhole() ? Builder.sha256(flash) : "";
    }

    /** Starts the processor on what the flash holds. */
    DeviceInstance start(BoardSetup setup, Arena arena) {
        if (digest().isEmpty()) {
            throw FindingException.of(board.title(), "There is no image on the device.", "Download one first.");
        }
        try {
            return PrivateImage.with(flash, file -> {
                processor = new Processor(setup);
                running = new DeviceInstance(file, setup, processor, arena);
                return running;
            });
        } catch (IOException e) {
            throw FindingException.of(board.title(), "The stand-in cannot write its image: " + e.getMessage() + ".",
                    "Check the space in the folder for temporary files.");
        }
    }
}
