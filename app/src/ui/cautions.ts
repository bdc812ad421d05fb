/** What the owner of a battery that may not be used yet has to know. */
export const NO_PERMISSION_YET =
  'A new installation that has no permission to operate yet: ask the installer how to leave the battery, so that it is not run flat.';
