"""What the office says."""

SENTENCES = {
    "already_here": "{email} signs in already, here or in another practice. Choose another address.",
    "invitation_ended": "This invitation has been used or has ended. Ask the practice for another.",
    "last_owner": "{name} is the only owner who can sign in. Make somebody else an owner first.",
    "not_yourself": "Nobody closes their own account or changes their own role. Ask another owner.",
    "license_needed": "A licensed practitioner has a license: type it, as in RD.",
    "wrong_name": "“{typed}” was typed; the name “{name}” is expected. Nothing was erased.",
    "months_out_of_range": "{months} months were typed; 0 (for ever), or 12 to 240, are expected.",
}
