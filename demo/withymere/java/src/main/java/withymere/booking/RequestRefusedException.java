package withymere.booking;

public class RequestRefusedException extends RuntimeException {
    private final transient PassageRequest request;

    public RequestRefusedException(PassageRequest request, String reason) {
        super(request.craft().name() + ": " + reason);
        this.request = request;
    }

    public PassageRequest request() {
        return request;
    }
}
