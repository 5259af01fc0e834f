(()=>{var a=new EventSource("/develop/changes"),e=!1;a.addEventListener("ready",()=>{e&&location.reload(),e=!0});a.addEventListener("saved",()=>location.reload());})();
