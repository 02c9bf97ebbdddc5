package boldanvil.core.frame;

/** A description of a packet, register or message makes no sense. The message is a sentence; the cure is another. */
public final class FrameException extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final String cure;

    public FrameException(String cause, String cure) {
        super(cause);
        this.cure = cure;
    }

    public String cure() {
        return cure;
    }
}
