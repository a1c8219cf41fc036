/** Mains hum, which everything in one house shares, and as many of its harmonics as are stronger than a voice, Hz. */
const MAINS_HZ = [50, 60];
const HUM_BELOW_HZ = 1000;

/** Whether a frequency lies so near to the mains or one of its lower harmonics that what two places have there in common tells nothing of a way between them, Hz. */
export const isMainsHum = (hz: number, widthHz: number): boolean => hz < HUM_BELOW_HZ && MAINS_HZ.some((mains) => Math.abs(hz - mains * Math.round(hz / mains)) < widthHz);
