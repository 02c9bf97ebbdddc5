package boldanvil.core.link;

/**
 * How someone signs in at a device. It is never part of a project.
 *
 * @param user empty for nobody in particular
 * @param encrypted whether messages are signed and encrypted
 */
public record Access(String user, String password, boolean encrypted) {
    /** Nobody in particular, without encryption. */
    public static final Access ANONYMOUS = new Access("", "", false);

    @Override
    public String toString() {
        return user.isEmpty() ? "anonymous" : user;
    }
}
