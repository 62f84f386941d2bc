"""What the harbour office says to its database."""

CHARGE = """
    BEGIN
        harbour.dues.charge(:sailing, :amount, p_note => :note);
    END;
"""
RATE = "SELECT harbour.dues.rate(:1, :2) FROM dual"
