import path from 'node:path'; import { writeFileSync, mkdirSync } from 'node:fs';
import { examine } from './src/core/condition/examine';
import { proposePlan, withQuality } from './src/core/plan/plan';
import { openSource } from './src/media/openSource';
import { psnr } from './src/core/metrics/metrics';
import { wholeRegion } from './src/core/picture/picture';
import { PictureCache } from './src/core/graph/cache';
import { compile } from './src/core/graph/graph';
import { filterGrey } from './bench/ffmpeg';
import { cleanPictures, grainyRgb, halved, sharpOf } from './bench/material';
import { RUNGS } from './bench/harm';
const CODE=257,PEAK=255*CODE; const work='/tmp/w/hm2'; mkdirSync(work,{recursive:true});
const lumaOf=({width,height,data}:any)=>({width,height,data:Uint16Array.from({length:width*height},(_,i)=>Math.round((0.299*data[3*i]+0.587*data[3*i+1]+0.114*data[3*i+2])*CODE))});
const close=(m:any,t:any)=>psnr(m,lumaOf(t),PEAK,Math.min(8,t.width>>4));
function plainly(small:any,truth:any){const{width,height}=truth;return Math.max(...['bicubic','lanczos'].map(f=>{const[{data}]=filterGrey([lumaOf(small)],`scale=${width}:${height}:flags=${f}+accurate_rnd`,{width,height},work);return close({width,height,data:data.map((v:number)=>(v>>8)*CODE)},truth)}))}
const all=(await cleanPictures()).filter(p=>p.kind!=='large');
const few=all.filter((p,n)=>p.kind!=='texture'&&n%4===0);
const jobs:[any,any][]=[...all.map(p=>[p,undefined] as [any,any]),...few.flatMap(p=>RUNGS.filter(r=>r.sigma>0).map(r=>[p,r] as [any,any]))];
for(const [p,r] of jobs){
 try{
 const small=halved(p.truth); const g0=r?.blur?await (await import('./bench/material')).blurredRgb(small,r.blur):small; const g=r?.sigma?grainyRgb(g0,r.sigma,r.size,5):g0; const file=path.join(work,r?.quality?'x.jpg':'x.png'); if(r?.quality) writeFileSync(file,await sharpOf(g).jpeg({quality:r.quality}).toBuffer()); else await sharpOf(g).png().toFile(file);
 const sharp=(await import('sharp')).default; const {data}=await sharp(file).removeAlpha().toColourspace('srgb').raw().toBuffer({resolveWithObject:true});
 const source=await openSource(file,`${file}${Math.random()}`); const rep=await examine(source); const m=rep.measurements; const plan=proposePlan(rep,source.info);
 const grain=plan.steps.find((s:any)=>s.treatment==='grain')!; const sure=m.grainConfidence>=0.8; const now=grain.on?(grain.settings as any).luma:0, was=sure?now:(m.grainLumaLeast>=1?Math.round(10*m.grainLumaLeast)/10:0);
 if(now===was) continue;
 const base=plainly({...small,data:new Uint8Array(data)},p.truth);
 const run=async(pl:any,q:any)=>{const{output}=compile(withQuality(pl,q),source,{cache:new PictureCache(200<<20)});return close((await output.frame(0,wholeRegion(output.stream))).planes[0],p.truth)-base};
 const old={...plan,steps:plan.steps.map((s:any)=>s.treatment==='grain'?{...s,on:was>0,settings:{...s.settings,luma:was}}:s)};
 console.log(JSON.stringify({kind:p.kind,name:p.name,r:r?.name??'clean',read:m.grainLuma,conf:m.grainConfidence,was,now,wasF:await run(old,'fast'),nowF:await run(plan,'fast'),wasB:await run(old,'best'),nowB:await run(plan,'best')}));
 }catch(e){console.log('ERR',p.name,String(e))}
}
