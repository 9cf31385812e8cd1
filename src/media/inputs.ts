import { SAFE_PROTOCOLS } from './tools';

/**
 * Demuxers of files that hold their pictures themselves, by ffmpeg's names. Playlists, sequences, devices, scripts and raw dumps, which would
 * have it open other files or guess, are left out, whatever a file's name says.
 */
const CONTAINERS = [
  // Film, tape, disc, broadcast, web.
  'matroska,mov,avi,mpeg,mpegts,mpegvideo,mpegtsraw,dv,mxf,mxg,asf,flv,live_flv,ogg,nut,ivf,rm,gxf,lxf,wtv,nsv,nuv,pva,pmp,vividas',
  // Streams of a codec by itself.
  'h261,h263,h264,hevc,m4v,mjpeg,mjpeg_2000,vc1,vc1test,cavsvideo,avs2,avs3,dirac,dnxhd,av1,obu,yuv4mpegpipe',
  // Of older machines and discs.
  'film_cpk,4xm,bink,smk,flic,roq,rpl,mv,mvi,vmd,tmv,anm,iff,ea,idcin,wc3movie,wsvqa,cdxl,filmstrip,siff,thp,xmv,swf,smjpeg,bfi,dsicin,dxa,jv,mm,paf,yop,amv',
  // Moving and single pictures.
  'gif,apng,bmp_pipe,dds_pipe,dpx_pipe,j2k_pipe,jpegls_pipe,jpegxl_pipe,pbm_pipe,pcx_pipe,pgm_pipe,pgmyuv_pipe,photocd_pipe',
  'pictor_pipe,ppm_pipe,psd_pipe,qdraw_pipe,qoi_pipe,sgi_pipe,sunrast_pipe,tiff_pipe,webp_pipe,xbm_pipe,xpm_pipe,xwd_pipe,gem_pipe,cri_pipe,ico',
  // Sound alone, to say that it is.
  'wav,w64,rf64,mp3,flac,aac,ac3,eac3,dts,aiff,au,caf,amr,ape,wv,tta,tak',
].join(',');

/** Arguments before a file that others made: local data only, and only containers that stand for themselves. */
export const UNTRUSTED_INPUT = [...SAFE_PROTOCOLS, '-format_whitelist', CONTAINERS];

/** Arguments before a script of ours that names one file that others made, which is opened under the same bounds. */
export const UNTRUSTED_SCRIPT = [...SAFE_PROTOCOLS, '-format_whitelist', `concat,${CONTAINERS}`, '-f', 'concat', '-safe', '0'];

/** Arguments before a Truevision picture that others made: it has no signature, so its reader is named. */
export const UNTRUSTED_TARGA = [...SAFE_PROTOCOLS, '-format_whitelist', 'image2', '-f', 'image2', '-pattern_type', 'none', '-c:v', 'targa'];

/** Whether ffmpeg's container is one of single pictures. */
export const holdsOnePicture = (container: string): boolean => /^(\w+_pipe|ico)$/.test(container);
